import { tableRows, type Answered } from './table';
import { numberOf } from './varbind';

/** POWER-ETHERNET-MIB (RFC 3621): what a port gives to the one plugged into it. */
export const powerEthernetTables = {
  pethPsePortEntry: '1.3.6.1.2.1.105.1.1.1',
  pethMainPseEntry: '1.3.6.1.2.1.105.1.3.1.1',
} as const;
/** What a group of ports may give, how it is, what it gives: pethMainPsePower 2, OperStatus 3, ConsumptionPower 4. */
export const pethMainPseColumns = [2, 3, 4] as const;
/** TruthValue that can be written: whether the port may give power. */
export const pethPsePortAdminEnable = `${powerEthernetTables.pethPsePortEntry}.3`;
export const pethPsePortColumns = [3, 6, 10] as const;

/** pethPsePortDetectionStatus, in the order of its numbers. */
export const poweringStates = [
  'unknown',
  'disabled',
  'searching',
  'delivering',
  'fault',
  'test',
  'other fault',
] as const;
export type PoweringState = (typeof poweringStates)[number];

export interface PoweringPort {
  /** pethPsePortGroupIndex: a unit of a stack or a card */
  group: number;
  /** pethPsePortIndex: counted within the group; on many agents the ifIndex (`poweringSockets` tells which socket it is) */
  port: number;
  enabled: boolean;
  state: PoweringState;
  /** the class of the powered device, 0 to 4; only while power is delivered (RFC 3621: undefined otherwise) */
  class: number | null;
}

/** Power of a unit of a stack or a card, in watts. */
export interface PowerGroup {
  group: number;
  budgetWatts: number;
  drawnWatts: number;
}

/** Groups that tell both what they may give and what they give. */
export function parsePowerGroups(answered: Answered): PowerGroup[] {
  return tableRows(powerEthernetTables.pethMainPseEntry, answered).flatMap(({ index, cells }) => {
    const [budgetWatts, drawnWatts] = [numberOf(cells.get(2)), numberOf(cells.get(4))];
    return index.length === 1 && budgetWatts !== undefined && budgetWatts > 0 && drawnWatts !== undefined
      ? [{ group: index[0] ?? 0, budgetWatts, drawnWatts }]
      : [];
  });
}

const faulty = 3;

/** pethPsePortGroupIndex of groups whose supply is broken: pethMainPseOperStatus faulty(3). */
export function parseFaultyPowerGroups(answered: Answered): number[] {
  return tableRows(powerEthernetTables.pethMainPseEntry, answered).flatMap(({ index: [group, ...more], cells }) =>
    group !== undefined && more.length === 0 && numberOf(cells.get(3)) === faulty ? [group] : [],
  );
}

export function parsePoweringPorts(answered: Answered): PoweringPort[] {
  return tableRows(powerEthernetTables.pethPsePortEntry, answered)
    .filter(({ index }) => index.length === 2)
    .map(({ index, cells }) => {
      const state = poweringStates[numberOf(cells.get(6)) ?? 0] ?? 'unknown';
      const powerClass = numberOf(cells.get(10));
      return {
        group: index[0] ?? 0,
        port: index[1] ?? 0,
        enabled: numberOf(cells.get(3)) === 1,
        state,
        // class0(1) … class4(5)
        class:
          state === 'delivering' && powerClass !== undefined && powerClass >= 1 && powerClass <= 5
            ? powerClass - 1
            : null,
      };
    });
}

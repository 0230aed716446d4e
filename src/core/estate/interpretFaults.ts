import type { ActiveAlarm } from '../mib/alarm';
import type { PhysicalRow } from '../mib/entity';
import type { InterfaceRow } from '../mib/interfaces';
import { applianceFaults } from './appliances';
import type { FaultFacts, ReadingValue } from './facts';
import type { Harvest } from './harvest';
import { poweringOfSockets } from './poweringOfSockets';

const subsystemOf: Partial<Record<PhysicalRow['class'], string>> = {
  powerSupply: 'power',
  fan: 'cooling',
  sensor: 'sensors',
  cpu: 'processor',
  port: 'ports',
  chassis: 'chassis',
  stack: 'stack',
  module: 'modules',
  backplane: 'chassis',
  container: 'chassis',
  energyObject: 'power',
  battery: 'power',
  storageDrive: 'storage',
};

/** A clock that nobody set by the second may be off by so much. */
const tolerableSeconds = 60;

/** What to do about a part of a class, where the standard has no word for it. */
const actionOf: Partial<Record<PhysicalRow['class'], string>> = {
  powerSupply: 'Check the feed of this supply; replace the supply if the feed is good.',
  fan: 'Replace the fan before the device gets too warm.',
  module: 'Reseat the module; replace it if the state stays.',
  port: 'Check the transceiver and the cable.',
};

/** Parts that may well be disabled: an empty slot, and a port nothing is plugged into, of which IF-MIB tells more. */
const restsAtTimes = new Set<PhysicalRow['class']>(['container', 'port']);

/**
 * @param pathByIndex entPhysicalIndex → path
 * @param names ifIndex → name of the port
 *
 * Faults by ENTITY-STATE (alarms, disabled parts that nobody took out of use), by sensors that are broken (RFC 4268, RFC 3433), and by readings beyond their bounds.
 */
export function faultsOf(
  harvest: FaultyHarvest,
  modules: Map<number, PhysicalRow>,
  pathByIndex: Map<number, string>,
  names: ReadonlyMap<number, string> = new Map(),
): FaultFacts[] {
  const partOf = (entPhysicalIndex: number) => pathByIndex.get(entPhysicalIndex) ?? `entity ${entPhysicalIndex}`;
  const states = harvest.moduleStates.flatMap(({ entPhysicalIndex, admin, oper, alarms, changedAt }): FaultFacts[] => {
    const partClass = modules.get(entPhysicalIndex)?.class ?? 'unknown';
    const raised = alarms.filter((alarm) => alarm !== 'unknown' && alarm !== 'indeterminate');
    const broken =
      oper === 'disabled' && admin !== 'locked' && admin !== 'shuttingDown' && !restsAtTimes.has(partClass);
    if (raised.length === 0 && !broken) return [];
    const critical = broken || raised.includes('critical') || raised.includes('major');
    const words = [
      broken ? 'does not work' : '',
      raised.length > 0 ? `alarm: ${raised.map(alarmWords).join(', ')}` : '',
    ]
      .filter(Boolean)
      .join('; ');
    return [
      {
        subsystem: subsystemOf[partClass] ?? 'modules',
        part: partOf(entPhysicalIndex),
        severity: critical ? 'critical' : 'warning',
        message: words,
        action: actionOf[partClass] ?? 'Look at the device’s own log for this part.',
        since: changedAt,
      },
    ];
  });
  const sensors = harvest.sensors.flatMap(({ entPhysicalIndex, state }): FaultFacts[] =>
    state === 'nonoperational'
      ? [
          {
            subsystem: 'sensors',
            part: partOf(entPhysicalIndex),
            severity: 'warning',
            message: 'the sensor is broken',
            action: 'Its value is not watched any more: replace the part that holds it.',
            since: null,
          },
        ]
      : [],
  );
  return onceEach([
    ...states,
    ...sensors,
    ...harvest.readings.flatMap(beyondBounds),
    ...wrongClock(harvest.clockAheadSeconds),
    ...poweringFaults(harvest, names),
    ...(harvest.activeAlarms ?? []).map((alarm) => alarmFault(alarm, names, pathByIndex)),
    ...(harvest.host?.unwell ?? []).map(unwellFault),
    ...applianceFaults(harvest),
    ...partedAggregates(harvest.interfaces ?? [], names),
  ]);
}

type FaultyHarvest = Pick<Harvest, 'moduleStates' | 'sensors' | 'readings' | 'clockAheadSeconds'> &
  Partial<
    Pick<
      Harvest,
      | 'poweringPorts'
      | 'faultyPowerGroups'
      | 'interfaces'
      | 'modules'
      | 'moduleInterfaces'
      | 'activeAlarms'
      | 'host'
      | 'ups'
      | 'printer'
    >
  >;

/** Two that say the same of the same part are one. */
function onceEach(faults: FaultFacts[]): FaultFacts[] {
  const seen = new Set<string>();
  return faults.filter(({ subsystem, part, message }) => {
    const key = JSON.stringify([subsystem, part, message]);
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

/** What gives power over Ethernet, and cannot (RFC 3621: pethMainPseOperStatus, pethPsePortDetectionStatus). */
function poweringFaults(harvest: FaultyHarvest, names: ReadonlyMap<number, string>): FaultFacts[] {
  const {
    interfaces = [],
    poweringPorts = [],
    modules: rows = [],
    moduleInterfaces = new Map<number, number>(),
  } = harvest;
  const sockets = poweringOfSockets(interfaces, poweringPorts, { rows, interfaces: moduleInterfaces });
  const groups = (harvest.faultyPowerGroups ?? []).map((group): FaultFacts => ({
    subsystem: 'power over Ethernet',
    part: `group ${group}`,
    severity: 'critical',
    message: 'its supply is broken',
    action: 'Nothing on these ports has power: look at the supply of this unit or card.',
    since: null,
  }));
  const ports = [...sockets].flatMap(([ifIndex, { port }]): FaultFacts[] =>
    port.state === 'fault' || port.state === 'other fault'
      ? [
          {
            subsystem: 'power over Ethernet',
            part: names.get(ifIndex) ?? `interface ${ifIndex}`,
            severity: 'warning',
            message: 'gives no power: a fault at this port',
            action: 'Try what is plugged in at another port; if it works there, the port is broken.',
            since: null,
          },
        ]
      : [],
  );
  return [...groups, ...ports];
}

const ifIndexInstance = /^1\.3\.6\.1\.2\.1\.2\.2\.1\.1\.(\d+)$/;
const entPhysicalInstance = /^1\.3\.6\.1\.2\.1\.47\.1\.1\.1\.1\.\d+\.(\d+)$/;

/** An alarm of ALARM-MIB. It names what it is about by an instance: a port or a part, where it is one that is known. */
function alarmFault(
  { resource, words, since }: ActiveAlarm,
  names: ReadonlyMap<number, string>,
  pathByIndex: ReadonlyMap<number, string>,
): FaultFacts {
  const port = names.get(Number(ifIndexInstance.exec(resource)?.[1] ?? Number.NaN));
  const part = pathByIndex.get(Number(entPhysicalInstance.exec(resource)?.[1] ?? Number.NaN));
  return {
    subsystem: 'alarms',
    part: port ?? part ?? (resource || 'device'),
    severity: 'warning',
    message: words,
    action: 'The device itself raised it, and has not cleared it: see its own log.',
    since,
  };
}

/** Aggregates whose members have other systems at their far ends: by LACP only those of one partner can work together (IEEE 802.1AX). */
function partedAggregates(interfaces: readonly InterfaceRow[], names: ReadonlyMap<number, string>): FaultFacts[] {
  const members = new Map<number, InterfaceRow[]>();
  for (const row of interfaces)
    if (row.aggregate !== null && row.partner !== undefined && row.oper === 'up')
      members.set(row.aggregate, [...(members.get(row.aggregate) ?? []), row]);
  return [...members].flatMap(([aggregate, rows]): FaultFacts[] => {
    const partners = [...new Set(rows.map(({ partner }) => partner))].sort();
    if (partners.length < 2) return [];
    return [
      {
        subsystem: 'aggregation',
        part: names.get(aggregate) ?? `interface ${aggregate}`,
        severity: 'warning',
        message: `its members lead to ${partners.length} systems: ${partners.join(', ')}`,
        action: 'Look at the cables of its members, and at whether the far ends form one system together.',
        since: null,
      },
    ];
  });
}

const unwellFault = ({ name, state }: { name: string; state: 'warning' | 'down' }): FaultFacts => ({
  subsystem: 'host',
  part: name,
  severity: state === 'down' ? 'critical' : 'warning',
  message: state === 'down' ? 'does not work' : 'warns that it may fail',
  action: 'Look at the system’s own log for this device.',
  since: null,
});

/** In whole minutes or hours, so that a clock that drifts is one fault and not another at every look. */
function wrongClock(aheadSeconds: number | null): FaultFacts[] {
  const off = Math.abs(aheadSeconds ?? 0);
  if (aheadSeconds === null || off < tolerableSeconds) return [];
  const far =
    off < 3600 ? 'minutes' : off < 86_400 ? `about ${Math.round(off / 3600)} h` : `about ${Math.round(off / 86_400)} d`;
  return [
    {
      subsystem: 'clock',
      part: 'clock',
      severity: 'warning',
      message: `is ${far} ${aheadSeconds > 0 ? 'ahead' : 'behind'}`,
      action: 'Look at its time source: logs and certificates are judged by this clock.',
      since: null,
    },
  ];
}

/** A reading beyond its bounds. The value itself is no part of the fault: it would be another one at every look. */
export function beyondBounds({ name, value, unit, above, below }: ReadingValue): FaultFacts[] {
  const words =
    above !== undefined && value > above
      ? `is above ${above} ${unit}`.trim()
      : below !== undefined && value < below
        ? `is below ${below} ${unit}`.trim()
        : null;
  return words === null
    ? []
    : [
        {
          subsystem: 'readings',
          part: name,
          severity: 'warning',
          message: words,
          action: 'See its line in the dossier; the bound stands with the reading, in Settings.',
          since: null,
        },
      ];
}

const alarmWords = (alarm: string) => (alarm === 'underRepair' ? 'under repair' : alarm);

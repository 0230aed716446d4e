import { tableRows, type Answered } from './table';
import { numberOf, textOf } from './varbind';

/** ENTITY-SENSOR-MIB (RFC 3433): entPhySensorTable, indexed by entPhysicalIndex. */
export const sensorTables = { entPhySensorEntry: '1.3.6.1.2.1.99.1.1.1' } as const;

/** Type, scale, precision, value, state, unit as the agent would print it. */
export const entPhySensorColumns = [1, 2, 3, 4, 5, 6] as const;

const sensorTypes = [
  'unknown',
  'other',
  'unknown',
  'voltsAC',
  'voltsDC',
  'amperes',
  'watts',
  'hertz',
  'celsius',
  'percentRH',
  'rpm',
  'cmm',
  'truthvalue',
] as const;
export type SensorType = (typeof sensorTypes)[number];

/** Stands where a sensor tells that something is so (1) or not (2) (SNMPv2-TC, TruthValue): no unit, but how it is read. */
export const truthUnit = 'yes/no';

const units: Record<SensorType, string> = {
  unknown: '',
  other: '',
  voltsAC: 'V',
  voltsDC: 'V',
  amperes: 'A',
  watts: 'W',
  hertz: 'Hz',
  celsius: '°C',
  percentRH: '%',
  rpm: '/min',
  cmm: 'm³/min',
  truthvalue: truthUnit,
};

const states = ['unavailable', 'ok', 'unavailable', 'nonoperational'] as const;

export interface SensorRow {
  entPhysicalIndex: number;
  type: SensorType;
  unit: string;
  /** in `unit`; null where the agent cannot tell it now */
  value: number | null;
  state: (typeof states)[number];
}

/**
 * Sensor values in their units: value · 10^(3·(scale − 9)) / 10^precision, where scale units(9) is one (RFC 3433 section 3).
 * A number of decimals below zero says how many digits are accurate and moves no point.
 */
export function parseSensors(answered: Answered): SensorRow[] {
  return tableRows(sensorTables.entPhySensorEntry, answered)
    .filter(({ index, cells }) => index.length === 1 && cells.get(4) !== undefined)
    .map(({ index, cells }) => {
      const type = sensorTypes[numberOf(cells.get(1)) ?? 0] ?? 'unknown';
      const state = states[numberOf(cells.get(5)) ?? 1] ?? 'unavailable';
      const exponent = 3 * ((numberOf(cells.get(2)) ?? 9) - 9) - Math.max(0, numberOf(cells.get(3)) ?? 0);
      const raw = numberOf(cells.get(4)) ?? 0;
      // 32-bit overflow and underflow are told by the ends of the range
      const told = state === 'ok' && Math.abs(raw) < 1_000_000_000;
      return {
        entPhysicalIndex: index[0] ?? 0,
        type,
        unit: units[type] || (textOf(cells.get(6)) ?? ''),
        value: told ? scaled(raw, exponent) : null,
        state,
      };
    });
}

/** Without the noise that a product of binary fractions leaves in the last digits. */
function scaled(value: number, exponent: number): number {
  return Number(`${value}e${exponent}`);
}

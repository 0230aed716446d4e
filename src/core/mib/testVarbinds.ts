import type { SnmpValue, Varbind } from './varbind';

/** Shorthand for answered values in tests. */
export const text = (value: string): SnmpValue => ({ type: 'octets', value: new TextEncoder().encode(value) });
export const octets = (...value: number[]): SnmpValue => ({ type: 'octets', value: Uint8Array.from(value) });
export const integer = (value: number): SnmpValue => ({ type: 'integer', value });
export const gauge = (value: number): SnmpValue => ({ type: 'gauge32', value });
export const counter = (value: number): SnmpValue => ({ type: 'counter32', value });
export const oid = (value: string): SnmpValue => ({ type: 'oid', value });
export const rows = (entry: string, index: string, cells: Record<number, SnmpValue>): Varbind[] =>
  Object.entries(cells).map(([column, value]) => ({ oid: `${entry}.${column}.${index}`, value }));

import { expect, test } from '@jest/globals';
import type { Varbind } from '../../core/mib/varbind';
import { SourceError, type VarbindSource } from '../source';
import { lookUpMacs } from './forwardingLookup';

/** An agent of numbers by name, with further ones in contexts. */
function agent(numbers: Record<string, number>, contexts: Record<string, Record<string, number>> = {}): VarbindSource {
  const varbind = (oid: string): Varbind[] =>
    numbers[oid] === undefined ? [] : [{ oid, value: { type: 'integer', value: numbers[oid] } } as Varbind];
  return {
    get: (oids) => Promise.resolve(oids.flatMap(varbind)),
    columns: () => Promise.reject(new SourceError('failed', 'tells no VLANs')),
    present: () => Promise.resolve(new Set()),
    inContext: (name) => (contexts[name] ? agent(contexts[name]) : null),
    close: () => undefined,
  };
}
const mac = '02:43:41:00:07:01';
const index = '2.67.65.0.7.1';

test('a bridge that does not tell how databases are numbered has them numbered like VLANs; one table for all is asked as well', async () => {
  const qBridge = agent({ [`1.3.6.1.2.1.17.7.1.2.2.1.2.30.${index}`]: 7, '1.3.6.1.2.1.17.1.4.1.2.7': 10_107 });
  expect(
    await lookUpMacs(
      qBridge,
      [
        { mac, vlan: 30 },
        { mac, vlan: 40 },
      ],
      null,
    ),
  ).toEqual([{ mac, vlan: 30, ifIndex: 10_107 }]);
  const bridge = agent({ [`1.3.6.1.2.1.17.4.3.1.2.${index}`]: 3, '1.3.6.1.2.1.17.1.4.1.2.3': 3 });
  expect(await lookUpMacs(bridge, [{ mac, vlan: null }], null)).toEqual([{ mac, vlan: null, ifIndex: 3 }]);
});

test('its own addresses, rows without a port and ports without an interface are not told', async () => {
  const row = (port: number, status: number, more = {}) =>
    agent({ [`1.3.6.1.2.1.17.4.3.1.2.${index}`]: port, [`1.3.6.1.2.1.17.4.3.1.3.${index}`]: status, ...more });
  const interfaces = { '1.3.6.1.2.1.17.1.4.1.2.3': 3 };
  expect(
    await Promise.all(
      [row(3, 4, interfaces), row(0, 3, interfaces), row(3, 3)].map((source) =>
        lookUpMacs(source, [{ mac, vlan: null }], null),
      ),
    ),
  ).toEqual([[], [], []]);
});

test('where each VLAN has a table in a context of its own, that one is asked, and a context that is not there tells nothing', async () => {
  const inside = { [`1.3.6.1.2.1.17.4.3.1.2.${index}`]: 3, '1.3.6.1.2.1.17.1.4.1.2.3': 48 };
  const source = agent({}, { 'vlan-30': inside });
  expect(
    await lookUpMacs(
      source,
      [
        { mac, vlan: 30 },
        { mac, vlan: 31 },
        { mac, vlan: null },
      ],
      (vlan) => `vlan-${vlan}`,
    ),
  ).toEqual([{ mac, vlan: 30, ifIndex: 48 }]);
});

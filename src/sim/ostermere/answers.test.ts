import { describe, expect, test } from '@jest/globals';
import * as ber from '../snmp/ber';
import { compareParts } from '../snmp/objects';
import { answersOf, engineIdOf } from './answers';
import { ostermere } from './estate';

const estate = ostermere(1);
const answers = answersOf(estate);
const parts = (oid: string) => oid.split('.').map(Number);

function body(device: string, oid: string): Buffer | null {
  const value = answers.get(device)?.exact(parts(oid));
  return value ? ber.element(value).body : null;
}
const text = (device: string, oid: string) => body(device, oid)?.toString('utf8');
const number = (device: string, oid: string) => {
  const found = body(device, oid);
  return found && ber.readInteger(found);
};
function column(device: string, root: string): string[] {
  const found: string[] = [];
  const prefix = parts(root);
  for (
    let next = answers.get(device)?.next(prefix);
    next && compareParts(next.oid.slice(0, prefix.length), prefix) === 0;
    next = answers.get(device)?.next(next.oid)
  )
    found.push(next.oid.slice(prefix.length).join('.'));
  return found;
}

describe('what the agents answer', () => {
  test('the system group of every device', () => {
    for (const { name, description } of estate.devices)
      expect([text(name, '1.3.6.1.2.1.1.5.0'), text(name, '1.3.6.1.2.1.1.1.0')]).toEqual([name, description]);
  });
  test('engine ids are of the form of RFC 3411: enterprise bit, format 3, a MAC; each its own', () => {
    const ids = estate.devices.map((device) => engineIdOf(device));
    for (const id of ids) expect([id.length, (id[0] ?? 0) & 0x80, id[4]]).toEqual([11, 0x80, 3]);
    expect(new Set(ids.map((id) => id.toString('hex'))).size).toBe(ids.length);
  });
  test('a 10G port has ifSpeed at its ceiling and ifHighSpeed in megabits (RFC 2863)', () => {
    expect([number('rpw-ring', '1.3.6.1.2.1.2.2.1.5.1'), number('rpw-ring', '1.3.6.1.2.1.31.1.1.1.15.1')]).toEqual([
      4_294_967_295, 10_000,
    ]);
  });
  test('bridge port numbers, ifIndex and LLDP port numbers are three numberings on the core', () => {
    const ifIndexes = column('sgh-core-1', '1.3.6.1.2.1.2.2.1.1').map(Number);
    expect(column('sgh-core-1', '1.3.6.1.2.1.17.1.4.1.2').map(Number)).not.toEqual(
      ifIndexes.slice(0, column('sgh-core-1', '1.3.6.1.2.1.17.1.4.1.2').length),
    );
    expect(number('sgh-core-1', '1.3.6.1.2.1.17.1.4.1.2.1')).toBe(ifIndexes[0]);
    expect(text('sgh-core-1', '1.0.8802.1.1.2.1.3.7.1.3.1')).toBe('3/1');
  });
  test('forwarding entries stand under the filtering database, which is not the VLAN', () => {
    const databases = new Set(
      column('rpw-plat', '1.3.6.1.2.1.17.7.1.2.2.1.2').map((index) => Number(index.split('.')[0])),
    );
    expect([...databases].every((id) => id > 1000)).toBe(true);
    expect(number('rpw-plat', '1.3.6.1.2.1.17.7.1.4.2.1.3.0.30')).toBe(1030);
  });
  test('a port list has its first port in the highest bit', () => {
    const untagged = body('rpw-plat', '1.3.6.1.2.1.17.7.1.4.2.1.5.0.20');
    expect((untagged?.[0] ?? 0) & 0xc0).toBe(0xc0);
  });
  test('the deaf end of a cable hears nobody there, the other end does', () => {
    const names = (device: string) =>
      column(device, '1.0.8802.1.1.2.1.4.1.1.9').map((index) => text(device, `1.0.8802.1.1.2.1.4.1.1.9.${index}`));
    expect(names('sgh-core-2')).toContain('sgh-acc-2');
    expect(names('sgh-acc-2')).not.toContain('sgh-core-2');
  });
  test('only the core keeps address tables, and servers have no bridge', () => {
    expect(column('sgh-core-1', '1.3.6.1.2.1.4.22.1.2').length).toBeGreaterThan(30);
    expect([column('rpw-plat', '1.3.6.1.2.1.4.22.1.2'), column('sgh-srv-01', '1.3.6.1.2.1.17')]).toEqual([[], []]);
  });
  test('uptime goes on while the agent runs, and is made anew at each answer', async () => {
    const before = number('rpw-plat', '1.3.6.1.2.1.1.3.0') ?? 0;
    await new Promise((resolve) => setTimeout(resolve, 40));
    expect(number('rpw-plat', '1.3.6.1.2.1.1.3.0')).toBeGreaterThan(before);
  });
  test('a core has one serial a line card, and two slots with nothing in them', () => {
    const slots = column('sgh-core-1', '1.3.6.1.2.1.47.1.1.1.1.5').filter(
      (index) => number('sgh-core-1', `1.3.6.1.2.1.47.1.1.1.1.5.${index}`) === 5,
    );
    const filled = new Set(
      column('sgh-core-1', '1.3.6.1.2.1.47.1.1.1.1.4').map((index) =>
        String(number('sgh-core-1', `1.3.6.1.2.1.47.1.1.1.1.4.${index}`)),
      ),
    );
    expect([slots.length, slots.filter((index) => !filled.has(index)).length]).toEqual([8, 2]);
  });
});

import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import * as ber from './snmp/ber';
import { agentsFromWalks, onLoopback } from './walks';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-walks-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const put = (file: string, ...lines: string[]) => writeFileSync(path.join(folder, file), lines.join('\n'));
const value = (agent: ReturnType<typeof agentsFromWalks>['agents'][number] | undefined, oid: string) => {
  const found = agent?.objects.exact(oid.split('.').map(Number));
  return found && ber.element(found);
};

test('an agent answers what a walk holds, each type under its own tag', () => {
  put(
    '10.72.9.1.walk',
    '.1.3.6.1.2.1.1.1.0 = STRING: "two',
    'lines"',
    '.1.3.6.1.2.1.1.2.0 = OID: .1.3.6.1.4.1.59101.1.12',
    '.1.3.6.1.2.1.1.3.0 = Timeticks: (12345) 0:02:03.45',
    '.1.3.6.1.2.1.2.2.1.3.1 = INTEGER: ethernetCsmacd(6)',
    '.1.3.6.1.2.1.2.2.1.6.1 = Hex-STRING: 02 4B 45 00 00 01 ',
    '.1.3.6.1.2.1.4.20.1.1.10.72.9.1 = IpAddress: 10.72.9.1',
    '.1.3.6.1.2.1.31.1.1.1.6.1 = Counter64: 18446744073709551615',
    '.1.3.6.1.2.1.31.1.1.1.18.1 = ""',
  );
  const { agents, problems } = agentsFromWalks(folder, '127.72.0.0', 1161);
  expect(problems).toEqual([]);
  expect(agents[0]?.setup.address).toBe('127.72.9.1');
  expect(value(agents[0], '1.3.6.1.2.1.1.1.0')?.body.toString()).toBe('two\nlines');
  expect(ber.readOid(value(agents[0], '1.3.6.1.2.1.1.2.0')?.body ?? Buffer.alloc(0))).toEqual([
    1, 3, 6, 1, 4, 1, 59101, 1, 12,
  ]);
  expect(ber.readInteger(value(agents[0], '1.3.6.1.2.1.1.3.0')?.body ?? Buffer.alloc(0))).toBe(12_345);
  expect(ber.readInteger(value(agents[0], '1.3.6.1.2.1.2.2.1.3.1')?.body ?? Buffer.alloc(0))).toBe(6);
  expect(value(agents[0], '1.3.6.1.2.1.2.2.1.6.1')?.body.toString('hex')).toBe('024b45000001');
  expect(value(agents[0], '1.3.6.1.2.1.4.20.1.1.10.72.9.1')?.tag).toBe(ber.tag.ipAddress);
  expect(value(agents[0], '1.3.6.1.2.1.31.1.1.1.6.1')?.body.toString('hex')).toBe('00ffffffffffffffff');
});

test('a file that is named otherwise than an address, and lines that are none, are told', () => {
  put('core.walk', '.1.3.6.1.2.1.1.1.0 = STRING: "x"');
  put('10.72.9.2.txt', 'Timeout: No Response', '.1.3.6.1.2.1.1.5.0 = STRING: "mlr-ring"');
  const { agents, problems } = agentsFromWalks(folder, '127.72.0.0', 1161);
  expect(agents).toHaveLength(1);
  expect(problems).toEqual([
    expect.stringContaining('10.72.9.2.txt'),
    expect.stringContaining('core.walk: its name is not an IPv4 address'),
  ]);
});

test('an address keeps its lower sixteen bits on loopback', () => {
  expect([onLoopback('10.72.4.2', '127.72.0.0'), onLoopback('192.0.2.255', '127.99.0.0')]).toEqual([
    '127.72.4.2',
    '127.99.2.255',
  ]);
});

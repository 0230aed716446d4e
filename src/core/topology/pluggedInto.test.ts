import { expect, test } from '@jest/globals';
import { pluggedInto } from './pluggedInto';

const end = (deviceId: number, device: string, port: string) => ({ deviceId, device, port });
const roles: Record<number, string> = { 1: 'switch', 2: 'switch', 3: 'access-point', 4: 'server' };

test('what carries nobody else’s traffic says where it is plugged in, both of a pair of links, each once', () => {
  const links = [
    { a: end(1, 'acc-1', '48'), b: end(2, 'acc-2', '48') },
    { a: end(1, 'acc-1', '10'), b: end(3, 'ap-1', 'lan1') },
    { a: end(4, 'srv-1', 'eth1'), b: end(2, 'acc-2', '10') },
    { a: end(1, 'acc-1', '9'), b: end(4, 'srv-1', 'eth0') },
    { a: end(1, 'acc-1', '9'), b: end(4, 'srv-1', 'bond0') },
    { a: end(1, 'acc-1', ''), b: end(9, 'stranger', '') },
  ].map((link) => ({ ...link, kind: 'ethernet' as const }));
  expect([...pluggedInto(links, (id) => roles[id] ?? '')]).toEqual([
    [3, 'acc-1 10'],
    [4, 'acc-1 9, acc-2 10'],
  ]);
});

test('a host is not plugged into its machines, they are into it', () => {
  const link = { a: end(4, 'srv-1', ''), b: end(7, 'vm-1', 'eth0'), kind: 'virtual' as const };
  expect([...pluggedInto([link], () => 'server')]).toEqual([[7, 'srv-1']]);
});

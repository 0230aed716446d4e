import { describe, expect, test } from '@jest/globals';
import { answersOf } from './answers';
import { ostermere } from './estate';
import { learnForwarding } from './forwarding';
import { switchPort } from './hands';
import type { SimEstate } from './model';

const now = Date.parse('2026-11-23T06:00:00Z');
const portOf = ({ devices }: SimEstate, device: string, port: string) =>
  devices.find(({ name }) => name === device)?.ports.find(({ name }) => name === port);
const fedGuest = (estate: SimEstate) => {
  const guest = estate.guests.find(({ device, port }) => portOf(estate, device, port)?.power?.status === 3);
  if (!guest) throw new Error('the sample feeds nobody');
  return guest;
};

describe('a port switched by hand', () => {
  test('takes the other end of its cable down and up with it', () => {
    const estate = ostermere(8);
    const cable = estate.cables.find(
      ({ a, b }) =>
        a.device === 'sgh-core-1' &&
        portOf(estate, b.device, b.port)?.oper === 'up' &&
        portOf(estate, a.device, a.port)?.oper === 'up',
    );
    const ends = () =>
      [cable?.a, cable?.b]
        .map((end) => portOf(estate, end?.device ?? '', end?.port ?? ''))
        .map((port) => [port?.admin, port?.oper, port?.changedAt]);
    switchPort(estate, cable?.a.device ?? '', cable?.a.port ?? '', { admin: 'down' }, now);
    expect(ends()).toEqual([
      ['down', 'down', now],
      ['up', 'down', now],
    ]);
    switchPort(estate, cable?.a.device ?? '', cable?.a.port ?? '', { admin: 'up' }, now + 1000);
    expect(ends()).toEqual([
      ['up', 'up', now + 1000],
      ['up', 'up', now + 1000],
    ]);
  });
  test('without power is down and hears nobody; with it everything is as before', () => {
    const estate = ostermere(8);
    const { mac, device, port } = fedGuest(estate);
    const heard = () =>
      learnForwarding(estate)
        .get(device)
        ?.some((row) => row.mac === mac);
    expect(heard()).toBe(true);
    switchPort(estate, device, port, { power: false }, now);
    expect([portOf(estate, device, port)?.oper, portOf(estate, device, port)?.power?.status, heard()]).toEqual([
      'down',
      1,
      false,
    ]);
    switchPort(estate, device, port, { power: true }, now + 5000);
    expect([portOf(estate, device, port)?.oper, portOf(estate, device, port)?.power?.status, heard()]).toEqual([
      'up',
      3,
      true,
    ]);
  });
  test('that had no link gets none by being switched on', () => {
    const estate = ostermere(8);
    const free = estate.devices
      .find(({ name }) => name === 'rpw-plat')
      ?.ports.find(({ oper, power }) => oper === 'down' && power);
    switchPort(estate, 'rpw-plat', free?.name ?? '', { admin: 'down' }, now);
    switchPort(estate, 'rpw-plat', free?.name ?? '', { admin: 'up' }, now);
    switchPort(estate, 'rpw-plat', free?.name ?? '', { power: false }, now);
    switchPort(estate, 'rpw-plat', free?.name ?? '', { power: true }, now);
    expect([free?.oper, free?.power?.status, free?.changedAt]).toEqual(['down', 2, undefined]);
  });
  test('nothing can be set where nobody has hands', () => {
    const objects = answersOf(ostermere(8), { startedAt: now }).get('rpw-plat');
    expect(
      objects?.writing([1, 3, 6, 1, 2, 1, 2, 2, 1, 7, 3], { tag: 2, body: Buffer.from([2]), start: 0, end: 1 }),
    ).toBe(17);
  });
});

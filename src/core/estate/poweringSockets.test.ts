import { describe, expect, test } from '@jest/globals';
import type { PhysicalClass, PhysicalRow } from '../mib/entity';
import type { PoweringPort } from '../mib/powerEthernet';
import { poweringSockets, type Socket, type SocketParts } from './poweringSockets';

const powering = (group: number, from: number, to: number): PoweringPort[] =>
  Array.from({ length: to - from + 1 }, (_, at) => ({
    group,
    port: from + at,
    enabled: true,
    state: 'searching',
    class: null,
  }));
/** Sockets with ifIndexes in a row, by a name each. */
const sockets = (first: number, names: string[]): Socket[] => names.map((name, at) => ({ ifIndex: first + at, name }));
const numbered = (from: number, to: number, nameOf: (at: number) => string): string[] =>
  Array.from({ length: to - from + 1 }, (_, at) => nameOf(from + at));
const part = (entPhysicalIndex: number, containedIn: number, kind: PhysicalClass, position: number): PhysicalRow => ({
  entPhysicalIndex,
  containedIn,
  class: kind,
  position,
  description: '',
  name: '',
  hardwareRevision: '',
  firmwareRevision: '',
  softwareRevision: '',
  serial: '',
  vendor: '',
  model: '',
  assetId: '',
  replaceable: false,
});

/** `ifIndex: group/port`, with a `?` where it is in doubt. */
const told = (ports: PoweringPort[], given: Socket[], parts?: SocketParts): Record<number, string> =>
  Object.fromEntries(
    [...poweringSockets(ports, given, parts)].map(([ifIndex, { port, doubt }]) => [
      ifIndex,
      `${port.group}/${port.port}${doubt === null ? '' : '?'}`,
    ]),
  );

describe('pethPsePortIndex counts within its group (RFC 3621)', () => {
  test('those that give power are not the first of all sockets', () => {
    const found = told(
      powering(1, 17, 24),
      sockets(
        101,
        numbered(1, 24, (at) => `port ${at}`),
      ),
    );
    expect([found[117], found[124], found[101]]).toEqual(['1/17', '1/24', undefined]);
  });
  test('a group is the box of a stack that has its number, though no other gives power', () => {
    const stack = [
      ...sockets(
        1001,
        numbered(1, 24, (at) => `1/0/${at}`),
      ),
      ...sockets(
        2001,
        numbered(1, 24, (at) => `2/0/${at}`),
      ),
    ];
    const found = told(powering(2, 1, 24), stack);
    expect([Object.keys(found).length, found[2001], found[2024], found[1001]]).toEqual([24, '2/1', '2/24', undefined]);
  });
  test('a socket for management before the others moves none of them', () => {
    const box = sockets(1, ['mgmt', ...numbered(1, 24, (at) => `p${at}`)]);
    const found = told(powering(1, 1, 24), box);
    // read as ifIndexes the first would be the socket for management
    expect([found[1], found[2], found[25]]).toEqual([undefined, '1/1', '1/24']);
  });
  test('a module of a chassis, by its place in it', () => {
    const parts: SocketParts = {
      rows: [
        part(1, 0, 'chassis', -1),
        part(10, 1, 'container', 1),
        part(11, 10, 'module', 3),
        part(20, 1, 'container', 2),
        part(21, 20, 'module', 4),
        ...[1, 2].map((at) => part(100 + at, 11, 'port', at)),
        ...[1, 2].map((at) => part(200 + at, 21, 'port', at)),
      ],
      interfaces: new Map([
        [101, 501],
        [102, 502],
        [201, 601],
        [202, 602],
      ]),
    };
    const given = [...sockets(501, ['east', 'west']), ...sockets(601, ['north', 'south'])];
    expect(told([...powering(3, 1, 2), ...powering(4, 1, 2)], given, parts)).toEqual({
      501: '3/1',
      502: '3/2',
      601: '4/1',
      602: '4/2',
    });
  });
});

describe('agents that do otherwise', () => {
  test('an index that counts no sockets of this box is an ifIndex', () => {
    const box = sockets(10_101, ['east', 'west', 'north']);
    expect(told(powering(1, 10_102, 10_103), box)).toEqual({ 10102: '1/10102', 10103: '1/10103' });
  });
  test('a number that is both says the same either way', () => {
    expect(told(powering(1, 1, 2), sockets(1, ['east', 'west', 'north']))).toEqual({ 1: '1/1', 2: '1/2' });
  });
  test('a number that could be either is in doubt', () => {
    // ifIndex 2 is the first socket, and the second one is 3
    const found = poweringSockets(powering(1, 2, 3), sockets(2, ['east', 'west', 'north']));
    expect([...found.values()].map(({ doubt }) => doubt !== null)).toEqual([true, true]);
  });
  test('where nothing but counting is left all is in doubt; where sockets of several boxes cannot be counted nothing is said', () => {
    const row = [10_101, 10_102, 10_201].map((ifIndex) => ({ ifIndex, name: '' }));
    expect(told([...powering(2, 1, 1), ...powering(1, 1, 2)], row)).toEqual({
      10101: '1/1?',
      10102: '1/2?',
      10201: '2/1?',
    });
    expect(told([...powering(2, 1, 1), ...powering(1, 1, 1)], row)).toEqual({});
  });
  test('what two ways tell differently is not told', () => {
    const parts: SocketParts = {
      rows: [part(1, 0, 'chassis', 1), part(11, 1, 'port', 2), part(12, 1, 'port', 1)],
      interfaces: new Map([
        [11, 7],
        [12, 8],
      ]),
    };
    expect(told(powering(1, 1, 2), sockets(7, ['p1', 'p2']), parts)).toEqual({});
  });
  test('a box without powering ports tells none', () => {
    expect(told([], sockets(1, ['p1']))).toEqual({});
  });
});

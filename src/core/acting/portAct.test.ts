import { describe, expect, test } from '@jest/globals';
import {
  aliasMistake,
  assignmentOf,
  interrupts,
  plannedSets,
  portActKinds,
  readBackMistake,
  reverseOf,
  sameSettings,
  type PortAct,
  type PortSettings,
} from './portAct';
import { judgeAct, type Hanging } from './portGuard';

const up: PortSettings = {
  ifIndex: 7,
  admin: 'up',
  oper: 'up',
  alias: 'camera',
  power: { group: 1, port: 7, enabled: true, state: 'delivering' },
};
const off: PortSettings = {
  ...up,
  admin: 'down',
  oper: 'down',
  power: { group: 1, port: 7, enabled: false, state: 'disabled' },
};
const actOf = (kind: (typeof portActKinds)[number]): PortAct =>
  kind === 'alias' ? { kind, alias: 'help point' } : kind === 'powerCycle' ? { kind, offSeconds: 5 } : { kind };
const wire = (act: PortAct, settings: PortSettings) => {
  const planned = plannedSets(act, settings);
  return 'reason' in planned
    ? planned.reason
    : planned.sets.map((set) => `${set.afterSeconds}s ${set.object} ${set.was} > ${set.words}`);
};

describe('what is sent', () => {
  test.each([
    ['shut', up, ['0s ifAdminStatus.7 up > down (2)']],
    ['enable', off, ['0s ifAdminStatus.7 down > up (1)']],
    ['powerOff', up, ['0s pethPsePortAdminEnable.1.7 true > false (2)']],
    ['powerOn', off, ['0s pethPsePortAdminEnable.1.7 false > true (1)']],
    [
      'powerCycle',
      up,
      ['0s pethPsePortAdminEnable.1.7 true > false (2)', '5s pethPsePortAdminEnable.1.7 false > true (1)'],
    ],
    ['alias', up, ['0s ifAlias.7 “camera” > “help point”']],
  ] as const)('to %s', (kind, settings, expected) => {
    expect(wire(actOf(kind), settings)).toEqual(expected);
  });
  test('goes by the object identifiers of RFC 2863 and RFC 3621', () => {
    const assignments = (['shut', 'powerOff', 'alias'] as const).flatMap((kind) => {
      const planned = plannedSets(actOf(kind), up);
      return 'sets' in planned ? planned.sets.map(assignmentOf) : [];
    });
    expect(assignments).toEqual([
      { oid: '1.3.6.1.2.1.2.2.1.7.7', value: { type: 'integer', value: 2 } },
      { oid: '1.3.6.1.2.1.105.1.1.1.3.1.7', value: { type: 'integer', value: 2 } },
      { oid: '1.3.6.1.2.1.31.1.1.1.18.7', value: { type: 'octets', value: new TextEncoder().encode('help point') } },
    ]);
  });
  test.each([
    ['shut', off, /off already/],
    ['enable', up, /on already/],
    ['powerOff', off, /not allowed to give power already/],
    ['powerOn', up, /already/],
    ['powerCycle', off, /nothing to take away/],
    [
      'powerOff',
      { ...up, power: { group: 1, port: 7, enabled: true, state: 'delivering', doubt: 'two ways' } },
      /not certain: two ways/,
    ],
    [
      'powerOn',
      { ...up, power: { group: 1, port: 7, enabled: false, state: 'disabled', doubt: 'two ways' } },
      /not certain/,
    ],
    ['powerOff', { ...up, power: null }, /gives no power/],
    ['powerOn', { ...up, power: null }, /gives no power/],
    ['powerCycle', { ...up, power: null }, /gives no power/],
    ['alias', { ...up, alias: 'help point' }, /its alias already/],
  ] as const)('to %s is nothing where there is nothing to do', (kind, settings, reason) => {
    expect(wire(actOf(kind), settings)).toMatch(reason);
  });
  test('an alias is plain text of 64 characters at most', () => {
    expect([aliasMistake(''), aliasMistake('a'.repeat(64))]).toEqual([null, null]);
    expect(aliasMistake('a'.repeat(65))).toMatch(/at most 64 characters; this one has 65/);
    for (const odd of ['two\nlines', 'bell\u0007', 'Türstation']) expect(aliasMistake(odd)).toMatch(/plain ASCII/);
    expect(wire({ kind: 'alias', alias: 'Türstation' }, up)).toMatch(/plain ASCII/);
  });
});

describe('afterwards', () => {
  test('each act shows in what is read back, and its not being done shows too', () => {
    const done: Record<(typeof portActKinds)[number], PortSettings> = {
      shut: off,
      enable: up,
      powerOff: off,
      powerOn: up,
      powerCycle: up,
      alias: { ...up, alias: 'help point' },
    };
    const undone: Record<(typeof portActKinds)[number], PortSettings> = {
      shut: up,
      enable: off,
      powerOff: up,
      powerOn: off,
      powerCycle: off,
      alias: up,
    };
    for (const kind of portActKinds)
      expect([
        kind,
        readBackMistake(actOf(kind), done[kind]),
        readBackMistake(actOf(kind), undone[kind]) === null,
      ]).toEqual([kind, null, false]);
  });
  test('the reverse of an act brings back what was', () => {
    expect(portActKinds.map((kind) => reverseOf(actOf(kind), up))).toEqual([
      { kind: 'enable' },
      { kind: 'shut' },
      { kind: 'powerOn' },
      { kind: 'powerOff' },
      null,
      { kind: 'alias', alias: 'camera' },
    ]);
  });
  test('another number, state, alias or power is another port to act on; going up and down is not', () => {
    expect(
      sameSettings(up, { ...up, oper: 'down', power: { group: 1, port: 7, enabled: true, state: 'searching' } }),
    ).toBe(true);
    for (const other of [{ ifIndex: 8 }, { admin: 'down' }, { alias: '' }, { power: null }])
      expect(sameSettings(up, { ...up, ...other })).toBe(false);
  });
});

describe('who may', () => {
  const free: Hanging = { kind: 'unused', lag: null, far: null, guests: [], cutOff: [], behind: 0 };
  const shut: PortAct = { kind: 'shut' };
  const name = 'rpw-plat 7';
  test('shut a port on which nothing hangs: any operator, without a word', () => {
    expect(judgeAct(shut, free, name)).toEqual({ refused: null, nameToType: null });
  });
  test.each([
    ['a machine', { guests: ['camera'] }],
    ['a neighbour that was not asked', { far: { device: 'phone-2', port: 'lan', passesOn: false } }],
  ])('shut a port with %s: whoever types its name', (_, more) => {
    expect(judgeAct(shut, { ...free, kind: 'edge', ...more }, name)).toEqual({ refused: null, nameToType: name });
  });
  test.each([
    ['to another switch', { far: { device: 'rpw-ring', port: '3', passesOn: true } }, /leads to rpw-ring 3/],
    ['that is an uplink by its tables alone', { kind: 'uplink' as const }, /leads on to the network/],
    ['that is an aggregate', { kind: 'lag' as const }, /joins several links/],
  ])('shut a port %s: nobody but an administrator who says so', (_, more, words) => {
    const verdict = judgeAct(shut, { ...free, ...more }, name);
    expect(verdict.refused).toMatch(words);
    expect(verdict.nameToType).toBe(name);
  });
  test('name it or switch it on: any operator, wherever it leads', () => {
    const uplink: Hanging = { ...free, kind: 'uplink', guests: ['camera'] };
    expect((['alias', 'enable', 'powerOn'] as const).map((kind) => judgeAct(actOf(kind), uplink, name))).toEqual(
      Array(3).fill({ refused: null, nameToType: null }),
    );
    expect(portActKinds.filter((kind) => interrupts(actOf(kind)))).toEqual(['shut', 'powerOff', 'powerCycle']);
  });
});

import { describe, expect, test } from '@jest/globals';
import { within } from './focus';
import { segmentsOf } from './segments';
import type { MapDevice, MapLink } from './mapData';
import { isNetwork, netOf, overlayRule, overlays, parseOverlay, vlanOf } from './overlay';

const device = (more: Partial<MapDevice> = {}): MapDevice => ({
  id: 1,
  name: 'rpw-plat',
  role: 'switch',
  site: 'RPW',
  state: 'answering',
  model: '',
  endpoints: 0,
  faults: 0,
  root: false,
  ...more,
});
const link = (more: Partial<MapLink> = {}): MapLink => ({
  id: 'l',
  a: { device: 1, port: '1' },
  b: { device: 2, port: '2' },
  kind: 'ethernet',
  confidence: 'confirmed',
  speedBps: 1e9,
  blocked: false,
  issues: [],
  members: 0,
  segment: false,
  ...more,
});

test('around a device is what is within so many links, whichever way they are told', () => {
  const chain = [
    { a: 2, b: 1 },
    { a: 2, b: 3 },
    { a: 3, b: 4 },
    { a: 4, b: 4 },
  ];
  expect([0, 1, 2, 9].map((steps) => [...within([1], chain, steps)])).toEqual([[1], [1, 2], [1, 2, 3], [1, 2, 3, 4]]);
  expect([...within([1, 4], chain, 1)].sort()).toEqual([1, 2, 3, 4]);
  expect([...within([7], chain, 3)]).toEqual([7]);
});

test('what is told in pairs to lie behind shared ports is one segment', () => {
  const through = (a: number, b: number, port = '1') =>
    link({ id: `${a}-${b}`, a: { device: a, port }, b: { device: b, port }, segment: true });
  const found = segmentsOf([through(1, 2), through(2, 3), through(1, 3), through(7, 8, '9'), link()]);
  expect(found.map(({ ports, links }) => [ports.map(({ device: id }) => id), links])).toEqual([
    [
      [1, 2, 3],
      ['1-2', '2-3', '1-3'],
    ],
    [[7, 8], ['7-8']],
  ]);
  expect(segmentsOf([through(3, 4), through(1, 2), through(2, 3)])).toHaveLength(1);
  expect(segmentsOf([link()])).toEqual([]);
});

describe('what the map is coloured by', () => {
  test('is read from the address, and is the state where that says nothing known', () => {
    expect(['speed', 'vlan:30', 'vlan:5000', 'vlan:0', 'beauty', null].map(parseOverlay)).toEqual([
      'speed',
      'vlan:30',
      'state',
      'state',
      'state',
      'state',
    ]);
    expect([vlanOf('vlan:30'), vlanOf('state')]).toEqual([30, null]);
  });
  test('says of a VLAN where it goes, and where one end of a link lacks it', () => {
    const rule = overlayRule('vlan:30');
    expect(
      (['both', 'a', 'b', 'toldOnce', 'none'] as const)
        .map((vlan) => rule.link(link({ vlan })))
        .map(({ words, pale }) => [words, pale]),
    ).toEqual([
      ['VLAN 30 at both ends', false],
      ['VLAN 30 at one end only', false],
      ['VLAN 30 at one end only', false],
      ['VLAN 30, the other end tells no VLANs', false],
      ['', true],
    ]);
    expect([rule.device(device({ vlan: true })).pale, rule.device(device({ vlan: false })).pale]).toEqual([
      false,
      true,
    ]);
  });
  test('says of a network who leads out of it, who is in it, and where its machines hang', () => {
    expect(
      [
        '10.72.4.0/24',
        'ticketing 10.72.90.0/30',
        '2001:db8::/64',
        '10.72.4.1/24',
        '10.72.4.0',
        'a b 10.0.0.0/8',
        'x',
      ].map(isNetwork),
    ).toEqual([true, true, true, false, false, false, false]);
    const overlay = parseOverlay('net:10.72.4.0/24');
    expect([netOf(overlay), netOf('state'), parseOverlay('net:what')]).toEqual(['10.72.4.0/24', null, 'state']);
    const { device: told } = overlayRule(overlay);
    const part = (more: object) =>
      told(device({ network: { routes: false, inside: false, machines: 0, ...more } })).words;
    expect([
      part({ routes: true, inside: true }),
      part({ inside: true }),
      part({ machines: 3 }),
      told(device()).pale,
    ]).toEqual([
      'leads into and out of 10.72.4.0/24',
      'has an address in 10.72.4.0/24',
      'machines of 10.72.4.0/24 hang on it',
      true,
    ]);
  });
  test('tells what routes, by its routes or by what it is', () => {
    const { device: told } = overlayRule('layer 3');
    expect([
      told(device({ routes: true })).words,
      told(device({ role: 'firewall' })).words,
      told(device()).pale,
    ]).toEqual(['routes', 'routes', true]);
  });
  test('shows what has no spare, and what lost it', () => {
    const rule = overlayRule('spare ways');
    const words = [
      link(),
      link({ cuts: { devices: 6, endpoints: 44 } }),
      link({ cuts: { devices: 6, endpoints: 44 }, spareLost: 'a – b is gone' }),
    ].map((one) => rule.link(one).words);
    expect(words).toEqual(['has a spare', 'the only way for several', 'has lost its spare']);
    expect([
      rule.device(device({ cuts: { devices: 2, endpoints: 0 } })).words,
      rule.link(link({ cuts: { devices: 1, endpoints: 1 } })).pale,
    ]).toEqual(['others hang on it alone', true]);
  });
  test('tells speeds by steps, and one that nobody told', () => {
    const words = (speedBps: number | null) => overlayRule('speed').link(link({ speedBps })).words;
    expect([1e11, 2e10, 1e9, 1e8, 1e7, null].map(words)).toEqual([
      '40G and more',
      '10G and more',
      '1G and more',
      '100M and more',
      '10M and less',
      'speed not told',
    ]);
  });
  test('shows the tree: its root, what leads up, what rests', () => {
    const rule = overlayRule('spanning tree');
    expect([
      rule.device(device({ root: true })).words,
      rule.link(link({ up: 'a' })).words,
      rule.link(link({ up: 'a', blocked: true })).tint,
      rule.link(link()).pale,
    ]).toEqual(['root of the tree', 'leads up to the root', 'caution', true]);
  });
  test('always says what a colour means, unless it is the plain one or a mark on the line says it', () => {
    const devices = [
      device(),
      device({ state: 'silent' }),
      device({ faults: 2 }),
      device({ role: 'router', root: true, change: 'added' }),
    ];
    const links = [
      link(),
      link({ issues: ['MTU differs'] }),
      link({ kind: 'lag', members: 2, change: 'gone' }),
      link({ kind: 'l3', confidence: 'concluded', change: 'changed' }),
      link({ segment: true, confidence: 'claimed' }),
    ];
    for (const overlay of overlays) {
      const { device: ofDevice, link: ofLink } = overlayRule(overlay);
      for (const shown of [
        ...devices.map(ofDevice),
        ...links.filter(({ issues, blocked }) => issues.length === 0 && !blocked).map(ofLink),
      ])
        expect([overlay, shown.tint === 'ink3' || shown.words !== '']).toEqual([overlay, true]);
    }
  });
});

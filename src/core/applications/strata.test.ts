import { expect, test } from '@jest/globals';
import type { Assembled, Part } from './assemble';
import { strataOf, type Rest } from './strata';
import { strataGraphMl } from './strataText';

const part = (deviceId: number, service: string, tier: number, verdict: Part['verdict'] = 'in'): Part => ({
  deviceId,
  address: '',
  device: `sgh-srv-0${deviceId}`,
  site: 'SGH',
  service,
  called: '',
  kind: '',
  verdict,
  tier,
});
const assembled: Assembled = {
  parts: [part(1, 'fareweb', 0), part(2, 'fareweb', 0), part(3, 'tallydb', 1), part(9, 'named', 1, 'shared')],
  talks: [
    { client: 0, server: 2, proof: 'tcp/5500' },
    { client: 1, server: 2, proof: 'tcp/5500' },
    { client: 1, server: 2, proof: 'tcp/5501' },
  ],
  proposals: [],
};
const device = (id: string, name: string, proof: string) => ({ kind: 'device' as const, id, name, proof });
const carried: Record<string, Rest[]> = {
  'device 1': [{ kind: 'switch', on: [device('20', 'sgh-acc-1', 'eth0 – 1'), device('21', 'sgh-acc-2', 'eth1 – 1')] }],
  'device 2': [{ kind: 'switch', on: [device('20', 'sgh-acc-1', 'eth0 – 2'), device('21', 'sgh-acc-2', 'eth1 – 2')] }],
  'device 3': [{ kind: 'machine', on: [{ kind: 'machine', id: 'm1', name: 'db-1', proof: 'runs in it' }] }],
  'machine m1': [{ kind: 'hypervisor', on: [device('30', 'sgh-hyp-1', 'runs on it now')] }],
  'device 30': [{ kind: 'switch', on: [device('21', 'sgh-acc-2', 'eth0 – 9')] }],
};
const user = (id: string, site = 'RPW', name = id) => ({ id, name, site, part: 0, proof: 'tcp/443' });
const told = (users = [user('10.72.3.51'), user('7', 'SGH', 'sgh-admin-1')]) =>
  strataOf({
    assembled,
    users,
    atLeast: (service) => (service === 'fareweb' ? 2 : 1),
    restsOf: (kind, id) => carried[`${kind} ${id}`] ?? [],
    isAlone: (kind, id) => `${kind} ${id}` === 'device 3' || `${kind} ${id}` === 'service 3 tallydb',
  });
const names = (of = told()) =>
  of.strata.map(({ title, brackets }) => [
    title,
    ...brackets.map(({ words, plates }) => [...plates.map(({ name }) => name), ...(words ? [words] : [])].join(', ')),
  ]);

test('an application stands from who uses it down to what carries its hosts, each thing once', () => {
  expect(names()).toEqual([
    ['Who uses it', '10.72.3.51', 'sgh-admin-1'],
    ['Asked from outside', 'fareweb, fareweb, 2 of 2'],
    ['At the bottom', 'tallydb'],
    ['Shared with others', 'named'],
    ['Hosts', 'sgh-srv-01', 'sgh-srv-02', 'sgh-srv-03'],
    ['Virtual machines', 'db-1'],
    ['Hypervisors', 'sgh-hyp-1'],
    ['Switches and ports', 'sgh-acc-1, sgh-acc-2, any of 2'],
  ]);
  const { strata, lines } = told();
  const plates = strata.flatMap(({ brackets }) => brackets.flatMap(({ plates: own }) => own));
  expect(new Set(plates.map(({ key }) => key)).size).toBe(plates.length);
  expect(plates.filter(({ isAlone }) => isAlone).map(({ name }) => name)).toEqual(['tallydb', 'sgh-srv-03']);
  // a line only where there is evidence, the same two once with all of it
  expect(lines).toContainEqual({ from: 'service 2 fareweb', to: 'service 3 tallydb', proof: 'tcp/5500; tcp/5501' });
  expect(lines).toContainEqual({ from: 'device 30', to: 'device 21', proof: 'eth0 – 9' });
  expect(lines.every(({ proof }) => proof !== '')).toBe(true);
});

test('a machine of the name of its device is no second plate, and a host that carries others stands below them', () => {
  const rests: Record<string, Rest[]> = {
    ...carried,
    'device 3': [{ kind: 'machine', on: [{ kind: 'machine', id: 'm1', name: 'sgh-srv-03', proof: 'runs in it' }] }],
    'machine m1': [{ kind: 'hypervisor', on: [device('1', 'sgh-srv-01', 'runs on it now')] }],
  };
  const strata = strataOf({
    assembled,
    users: [],
    atLeast: () => 1,
    restsOf: (kind, id) => rests[`${kind} ${id}`] ?? [],
    isAlone: () => false,
  });
  expect(names(strata).slice(-3)).toEqual([
    ['Hosts', 'sgh-srv-02', 'sgh-srv-03'],
    ['Hypervisors', 'sgh-srv-01'],
    ['Switches and ports', 'sgh-acc-1, sgh-acc-2, any of 2'],
  ]);
  expect(strata.lines).toContainEqual({ from: 'device 3', to: 'device 1', proof: 'sgh-srv-03: runs on it now' });
});

test('a part of which only the address is known stands on the switch it is heard at', () => {
  const gateway = { ...part(0, 'tcp/8443', 1), address: '10.72.42.11', device: 'fab-pay-1' };
  const { strata, lines } = strataOf({
    assembled: {
      ...assembled,
      parts: [part(1, 'fareweb', 0), gateway],
      talks: [{ client: 0, server: 1, proof: 'tcp/8443' }],
    },
    users: [],
    atLeast: () => 1,
    restsOf: (kind, id) =>
      kind === 'endpoint' && id === '10.72.42.11'
        ? [{ kind: 'switch', on: [device('40', 'sgh-leaf-2', 'is heard there')] }]
        : (carried[`${kind} ${id}`] ?? []),
    isAlone: (kind, id) => kind === 'endpoint' && id === '10.72.42.11',
  });
  const plates = strata.flatMap(({ brackets }) => brackets.flatMap(({ plates: own }) => own));
  expect(plates.filter(({ isAlone }) => isAlone).map(({ kind, name }) => [kind, name])).toEqual([
    ['service', 'tcp/8443'],
    ['endpoint', 'fab-pay-1'],
  ]);
  expect(lines).toContainEqual({ from: 'endpoint 10.72.42.11', to: 'device 40', proof: 'is heard there' });
});

test('many that ask are told by site, devices by themselves', () => {
  const many = Array.from({ length: 30 }, (_, nth) => user(`10.72.3.${nth}`, nth < 29 ? 'RPW' : ''));
  const [top] = told([...many, user('7', 'SGH', 'sgh-admin-1')]).strata;
  expect(top?.brackets.flatMap(({ plates }) => plates.map(({ name }) => name))).toEqual([
    '29 at RPW',
    '10.72.3.29',
    'sgh-admin-1',
  ]);
});

test('as a graph every line joins two nodes that are there, and no sign breaks it', () => {
  const text = strataGraphMl('Tickets <& "more">', told([user('a<b', 'RPW', 'a<b&"c"\u0001')]));
  expect(text).toContain('<data key="name">a&#60;b&#38;&#34;c&#34;</data>');
  const nodes = new Set([...text.matchAll(/<node id="(\w+)"/g)].map(([, id]) => id));
  const ends = [...text.matchAll(/source="(\w+)" target="(\w+)"/g)].flatMap(([, one, other]) => [one, other]);
  expect(ends.length).toBeGreaterThan(10);
  expect(ends.every((end) => nodes.has(end))).toBe(true);
});

import { expect, test } from '@jest/globals';
import { prepareGraph, type Need, type Thing } from './graph';
import { Providers } from './providers';
import { Rehearsals } from './rehearse';
import { singleStops } from './singleStops';

// a core with an access switch and a host, and a machine on the host with a device in it
const names = [
  'core',
  'access',
  'camera',
  'host',
  'guest',
  'web on guest',
  'guest machine',
  'camera mac',
  'desk',
  'fares',
];
const numberOf = (name: string) => names.indexOf(name);
const kindOf = (name: string): Thing['kind'] =>
  name === 'fares'
    ? 'application'
    : name.startsWith('web')
      ? 'service'
      : name === 'guest machine'
        ? 'machine'
        : name === 'desk' || name.endsWith('mac')
          ? 'endpoint'
          : 'device';
const hangs: Record<string, string> = { 'camera mac': 'camera', desk: 'access' };
const need = (of: string, from: string, kind: Need['kind']): Need => ({
  of: numberOf(of),
  from: [numberOf(from)],
  atLeast: 1,
  kind,
  proof: '',
});
const graph = prepareGraph({
  things: names.map((name) => ({ kind: kindOf(name), id: name, name })),
  deviceCount: 5,
  cables: [
    ['core', 'access'],
    ['access', 'camera'],
    ['core', 'host'],
    ['host', 'guest'],
  ].map(([a = '', b = '']) => ({ a: numberOf(a), b: numberOf(b) })),
  bridges: Uint8Array.from([1, 1, 0, 0, 0]),
  forwards: Uint8Array.from([1, 1, 0, 0, 0]),
  standing: Uint8Array.from([1, 1, 0, 0, 0]),
  hangsOn: Int32Array.from(names, (name) => numberOf(hangs[name] ?? '')),
  needs: [need('web on guest', 'guest', 'runs on'), need('fares', 'web on guest', 'member of')],
  layers: [],
  gatewayGroups: [],
  clusterHosts: [],
  machines: [{ machine: numberOf('guest machine'), host: numberOf('host'), bytes: null, inside: numberOf('guest') }],
});

test('the heart of a network stands alone too; what is told with its device is not told again', () => {
  const rehearsals = new Rehearsals(graph);
  const found = singleStops(
    rehearsals,
    [numberOf('fares')],
    new Providers(graph),
    (endpoint) => endpoint === numberOf('camera mac'),
  );
  const told = Object.fromEntries(
    found.map(({ thing, stops, devices, endpoints }) => [names[thing], [stops.length, devices, endpoints]]),
  );
  // the desk and the camera are one endpoint and one device: the camera’s own address is no second thing
  expect(told).toEqual({
    core: [1, 2, 0],
    access: [0, 1, 1],
    host: [1, 1, 0],
    guest: [1, 0, 0],
  });
});

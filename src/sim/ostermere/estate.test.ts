import { describe, expect, test } from '@jest/globals';
import type { SimDevice, SimEstate } from './model';
import { makers } from './makers';
import { ostermere, storyLength } from './estate';

const steps = Array.from({ length: storyLength }, (_, at) => at + 1);
const deviceOf = (estate: SimEstate, name: string): SimDevice => {
  const found = estate.devices.find((device) => device.name === name);
  if (!found) throw new Error(`the sample has no ${name}`);
  return found;
};
const portOf = (estate: SimEstate, device: string, port: string) =>
  deviceOf(estate, device).ports.find(({ name }) => name === port);
const twice = (list: string[]) => list.filter((item, at) => list.indexOf(item) !== at);

describe.each(steps)('the sample at step %i', (step) => {
  const estate = ostermere(step);
  test('is the same network whenever it is asked for', () => {
    expect(JSON.stringify(ostermere(step))).toBe(JSON.stringify(estate));
  });
  test('names, addresses, serials and MACs each belong to one', () => {
    expect(twice(estate.devices.map(({ name }) => name))).toEqual([]);
    expect(twice(estate.devices.map(({ address }) => address))).toEqual([]);
    expect(twice(estate.devices.flatMap(({ modules }) => modules.map(({ serial }) => serial).filter(Boolean)))).toEqual(
      [],
    );
    expect(twice([...estate.guests.map(({ mac }) => mac), ...estate.devices.map(({ mac }) => mac)])).toEqual([]);
  });
  test('every MAC is locally administered and nobody’s group, every address private', () => {
    for (const mac of [...estate.guests, ...estate.devices].map((machine) => machine.mac))
      expect(parseInt(mac.slice(0, 2), 16) & 3).toBe(2);
    for (const { address } of estate.devices) expect(address).toMatch(/^10\.72\./);
  });
  test('cables and guests end on ports there are, no port holds two cables', () => {
    const silent = new Set(step >= 8 ? ['ofy-plat'] : []);
    const ends = estate.cables.flatMap(({ a, b }) => [a, b]);
    for (const { device, port } of [...ends, ...estate.guests])
      if (!silent.has(device)) expect(portOf(estate, device, port)?.name).toBe(port);
    expect(twice(ends.map(({ device, port }) => `${device} ${port}`))).toEqual([]);
  });
  test('no port has been in its state for longer than its device is up', () => {
    for (const { uptimeSeconds, ports } of estate.devices)
      expect(ports.every(({ sinceSeconds }) => sinceSeconds >= 0 && sinceSeconds <= uptimeSeconds)).toBe(true);
  });
  test('module indexes are one device’s own and parents come before their children', () => {
    for (const { modules } of estate.devices) {
      expect(new Set(modules.map(({ index }) => index)).size).toBe(modules.length);
      for (const { parent } of modules)
        expect(parent === 0 || modules.some(({ index }) => index === parent)).toBe(true);
    }
  });
});

describe('the story', () => {
  test('a serial never wanders from one device to another: what is new takes new ones', () => {
    const owner = new Map<string, string>();
    const wandering: string[] = [];
    for (const step of steps) {
      for (const { name, modules } of ostermere(step).devices) {
        for (const { serial } of modules) {
          if (!serial) continue;
          if ((owner.get(serial) ?? name) !== name)
            wandering.push(`${serial} from ${owner.get(serial) ?? ''} to ${name} at step ${step}`);
          owner.set(serial, name);
        }
      }
    }
    expect(wandering).toEqual([]);
  });
  test('2: an access switch is replaced under its name and address', () => {
    const [before, after] = [deviceOf(ostermere(1), 'rpw-plat'), deviceOf(ostermere(2), 'rpw-plat')];
    const chassis = (device: SimDevice) => device.modules.find(({ class: kind }) => kind === 3)?.serial;
    expect([before.address, chassis(before), after.address, chassis(after)]).toEqual([
      '10.72.4.2',
      'KA48-90117',
      '10.72.4.2',
      'KA48-93302',
    ]);
  });
  test('what is replaced or upgraded has restarted: its uptime is the time since', () => {
    const days = (step: number, name: string) => Math.round(deviceOf(ostermere(step), name).uptimeSeconds / 86_400);
    expect([days(1, 'rpw-plat'), days(2, 'rpw-plat'), days(3, 'rpw-plat'), days(8, 'rpw-plat')]).toEqual([
      127, 2, 2, 37,
    ]);
    expect([days(5, 'sgh-srv-01'), days(6, 'sgh-srv-01')]).toEqual([155, 2]);
  });
  test('3: half the stops’ access switches go to the new release', () => {
    const releases = (step: number) =>
      ['lqy', 'rpw', 'chd', 'ofy'].map((stop) => deviceOf(ostermere(step), `${stop}-plat`).release);
    expect(releases(2)).toEqual(['7.4.9', '7.4.9', '7.4.9', '7.4.9']);
    expect(releases(3)).toEqual(['7.4.12b', '7.4.12b', '7.4.9', '7.4.9']);
  });
  test('4: a camera moves from one port to another, the printer falls to 10 Mbit/s half duplex', () => {
    const camera = (step: number) => ostermere(step).guests.find(({ name }) => name === 'cam-rpw-3')?.port;
    expect([camera(3), camera(4)]).toEqual(['9', '15']);
    expect(portOf(ostermere(4), 'rpw-plat', '6')).toMatchObject({ speedMbps: 10, duplex: 'half' });
  });
  test('5: the ring link at CHD goes down, and the blocked spare takes over', () => {
    const state = (step: number) => [
      portOf(ostermere(step), 'chd-ring', '1')?.oper,
      portOf(ostermere(step), 'rpw-ring', '2')?.oper,
      Boolean(portOf(ostermere(step), 'ofy-ring', '1')?.blocked),
    ];
    expect([state(4), state(5)]).toEqual([
      ['up', 'up', true],
      ['down', 'down', false],
    ]);
  });
  test('6: a drive is added in sgh-srv-02, in a bay that was empty', () => {
    const drives = (step: number) =>
      deviceOf(ostermere(step), 'sgh-srv-02')
        .modules.filter(({ name }) => /^Drive \d/.test(name))
        .map(({ name }) => name);
    expect([drives(5), drives(6)]).toEqual([
      ['Drive 1', 'Drive 2'],
      ['Drive 1', 'Drive 2', 'Drive 3'],
    ]);
  });
  test('7: Terminus East is commissioned', () => {
    const names = (step: number) => ostermere(step).devices.map(({ name }) => name);
    const before = new Set(names(6));
    expect(names(7).filter((name) => !before.has(name))).toEqual([
      'tme-ring',
      'tme-plat',
      'tme-ap-01',
      'tme-ptz-1',
      'tme-ptz-2',
    ]);
  });
  test('8: a duplex and a VLAN mismatch, two supplies failed and a memory module gone, a platform switch silent', () => {
    const today = ostermere(8);
    expect([portOf(today, 'lqy-ring', '3')?.duplex, portOf(today, 'lqy-plat', 'U1')?.duplex]).toEqual(['half', 'full']);
    expect([portOf(today, 'rpw-plat', 'U1')?.pvid, portOf(today, 'rpw-ring', '3')?.pvid]).toEqual([10, 70]);
    expect(
      ['sgh-core-1', 'sgh-core-2', 'sgh-edge-2'].map((name) =>
        deviceOf(today, name).moduleStates?.map(({ module, working }) => `${module} ${working}`),
      ),
    ).toEqual([['Supply 2 false'], [], ['Supply 2 false']]);
    expect(deviceOf(today, 'sgh-srv-04').modules.filter(({ name }) => name.startsWith('DIMM'))).toHaveLength(3);
    expect(today.devices.some(({ name }) => name === 'ofy-plat')).toBe(false);
  });
  test('nothing else happens between two steps than the story tells', () => {
    const telling = (estate: SimEstate) =>
      new Map(
        estate.devices.map(({ uptimeSeconds: _up, ports, own, ...device }) => [
          device.name,
          JSON.stringify([
            device,
            { ...own, loadPercent: null },
            ports.map(({ sinceSeconds: _since, lost: _lost, ...port }) => port),
          ]),
        ]),
      );
    const touched = (step: number) => {
      const [before, after] = [telling(ostermere(step - 1)), telling(ostermere(step))];
      return [...new Set([...before.keys(), ...after.keys()])]
        .filter((name) => before.get(name) !== after.get(name))
        .sort();
    };
    expect(touched(2)).toEqual(['rpw-plat']);
    expect(touched(3)).toEqual(['glh-plat', 'kln-plat', 'lqy-plat', 'rpw-plat', 'slm-plat']);
    expect(touched(4)).toEqual(['rpw-plat']);
    expect(touched(5)).toEqual(['chd-ring', 'ofy-ring', 'rpw-ring']);
    expect(touched(8)).toEqual(['lqy-ring', 'ofy-plat', 'rpw-plat', 'sgh-core-1', 'sgh-edge-2', 'sgh-srv-04']);
  });
});

test('made-up makers have enterprise numbers above 59000 and prefixes of their own', () => {
  const list = Object.values(makers);
  expect(list.every(({ enterprise }) => enterprise > 59_000)).toBe(true);
  expect(new Set(list.map(({ mac }) => mac)).size).toBe(list.length);
});

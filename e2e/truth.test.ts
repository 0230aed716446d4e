import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { queryThing, type MarkedRow } from '../src/server/query/query';
import { wattsOfClass } from '../src/sim/ostermere/answers';
import { controllerOf } from '../src/sim/ostermere/controllers';
import { ostermere, storyLength } from '../src/sim/ostermere/estate';
import { fabricBox, hypervisorBox, spines } from '../src/sim/ostermere/services';
import type { SimEstate } from '../src/sim/ostermere/model';
import { plantedOddities } from '../src/sim/ostermere/truth';
import type { ThingName } from '../src/core/things/things';
import { openSample, wholeStory, wholeStoryMs, type SampleStore } from './support/sampleStore';

/**
 * What a survey concludes against what the sample really is. The survey sees only datagrams; the truth is the model from
 * which the agents' answers were made.
 */
let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample(wholeStory);
}, wholeStoryMs);
afterAll(() => sample.close());

/** Devices that speak no SNMP: the controllers themselves, and the spines, of which only the fabric's controller tells. */
const told = [...spines, fabricBox, hypervisorBox];
const hasController = (name: string) => /^sgh-srv-0[1-4]$/.test(name);
const never = (): never => {
  throw new Error('the sample contradicts itself');
};
const rowsOf = <Row = MarkedRow>(thing: ThingName, survey: number, where = '') =>
  queryThing(sample.store, thing, { survey, against: null, where, sort: [], page: 1, size: 100_000 }).rows as Row[];
const tables = new Map<string, Map<string, MarkedRow[]>>();
/** The rows of one device; each table is asked for once. */
const rowsOfDevice = (thing: ThingName, survey: number, device: string, field = 'device') => {
  const key = `${thing} ${survey} ${field}`;
  let table = tables.get(key);
  if (!table) {
    table = new Map();
    for (const row of rowsOf(thing, survey))
      table.set(String(row[field]), [...(table.get(String(row[field])) ?? []), row]);
    tables.set(key, table);
  }
  return table.get(device) ?? [];
};

describe.each([1, 4, 7, 8])('at step %i', (step) => {
  const truth: SimEstate = ostermere(step);
  test('every device is found once, with its name, address, maker, model, release and serial', () => {
    // first what came of the controllers' addresses: it says why, where a device is missing below
    for (const { address } of [fabricBox, hypervisorBox])
      expect(rowsOf('visits', step, `address=${address}`)).toMatchObject([{ outcome: 'answered', reason: '' }]);
    const found = new Map(rowsOf('devices', step, '-state=silent').map((row) => [row.name, row]));
    expect([...found.keys()].sort()).toEqual([...truth.devices, ...told].map(({ name }) => name).sort());
    for (const { name, address, model, serial, release } of told)
      expect(found.get(name)).toMatchObject({ address, model, serial, release, state: 'answering' });
    for (const { name, address, maker, model, release, location, modules } of truth.devices) {
      expect(found.get(name)).toMatchObject({
        address,
        vendor: maker,
        model,
        release,
        location,
        serial: modules.find(({ class: kind }) => kind === 3)?.serial ?? '',
        state: name === 'sgh-wlc' && step >= 8 ? 'partial' : 'answering',
      });
    }
  });
  test('every module and every empty slot', () => {
    for (const { name, modules } of truth.devices) {
      const found = rowsOfDevice('modules', step, name);
      // what a server is made of its management controller knows best
      const controller = controllerOf(truth.devices.find((one) => one.name === name) ?? never(), step);
      const serials = controller
        ? [
            controller.server.serial,
            `BN-${controller.server.serial.slice(-4)}`,
            ...[...controller.memory, ...controller.drives, ...controller.supplies].map(({ serial }) => serial),
          ]
        : modules.map(({ serial }) => serial);
      expect([
        name,
        found
          .map((row) => row.serial)
          .filter(Boolean)
          .sort(),
      ]).toEqual([name, serials.filter(Boolean).sort()]);
      const empty = controller
        ? [...controller.memory, ...controller.drives].filter(({ serial }) => serial === null).length
        : modules.filter(({ class: kind, index }) => kind === 5 && !modules.some(({ parent }) => parent === index))
            .length;
      expect([name, found.filter((row) => row.empty).length]).toEqual([name, empty]);
    }
  });
  test('every port with its state, MTU, VLAN and, while it is up, its speed', () => {
    for (const { name, ports, bridge } of truth.devices) {
      const found = new Map(rowsOfDevice('ports', step, name).map((row) => [row.name, row]));
      expect([name, found.size]).toEqual([name, ports.length + (hasController(name) ? 1 : 0)]);
      for (const port of ports) {
        expect(found.get(port.name)).toMatchObject({
          admin: port.admin,
          oper: port.oper,
          mtu: port.mtu,
          speedBps: port.oper === 'up' && port.speedMbps > 0 ? port.speedMbps * 1e6 : null,
          ...(bridge && port.bridged && !port.aggregate && { vlan: port.pvid }),
          poe: port.power
            ? {
                enabled: true,
                state: port.power.status === 3 ? 'delivering' : 'searching',
                class: port.power.status === 3 ? port.power.classification - 1 : null,
                watts: port.power.status === 3 ? (wattsOfClass[port.power.classification] ?? null) : null,
              }
            : null,
        });
      }
    }
  });
  test('every process that listens, every package, every virtual machine, every routing neighbour, every sensor and fault', () => {
    const sorted = (list: string[]) => [...list].sort();
    for (const device of truth.devices) {
      const { name, processes = [], installed = [], machines = [], peers, sensors = [], moduleStates = [] } = device;
      const own = (thing: ThingName) => rowsOfDevice(thing, step, name);
      expect([
        name,
        sorted(
          own('services').map(
            (row) => `${String(row.process)} ${String(row.protocol)} ${String(row.address)} ${String(row.port)}`,
          ),
        ),
      ]).toEqual([
        name,
        sorted(
          processes.flatMap(({ name: process, listens }) =>
            listens.map(({ protocol, address, port }) => `${process} ${protocol} ${address} ${port}`),
          ),
        ),
      ]);
      expect([name, sorted(own('software').map((row) => `${String(row.name)} ${String(row.version)}`))]).toEqual([
        name,
        sorted([
          ...installed.map((one) => one.name),
          ...(controllerOf(device, step)?.firmware ?? []).map((one) => `${one.name} ${one.version}`),
        ]),
      ]);
      expect([
        name,
        sorted(
          rowsOfDevice('machines', step, name, 'host').map(
            (row) => `${String(row.name)} ${String(row.state)} ${String(row.memoryBytes)}`,
          ),
        ),
      ]).toEqual([
        name,
        sorted(machines.map((one) => `${one.name} ${one.running ? 'running' : 'off'} ${one.memoryMB * 2 ** 20}`)),
      ]);
      expect([
        name,
        sorted(own('peers').map((row) => `${String(row.protocol)} ${String(row.address)} ${String(row.up)}`)),
      ]).toEqual([
        name,
        sorted([
          ...(peers?.bgp ?? []).map(({ address, state }) => `bgp ${address} ${state === 6}`),
          ...(peers?.ospf ?? []).map(({ address, state }) => `ospf ${address} ${state === 8}`),
        ]),
      ]);
      expect([
        name,
        own('virtualRouters').map((row) => `${String(row.group)} ${String(row.addresses)} ${String(row.state)}`),
      ]).toEqual([
        name,
        (device.standby ?? []).map(
          ({ group, address, isMaster }) => `${group} ${address} ${isMaster ? 'master' : 'backup'}`,
        ),
      ]);
      expect([
        name,
        own('faults')
          .filter((row) => !['security', 'readings', 'clock', 'addresses', 'teaming'].includes(String(row.subsystem)))
          .map((row) => String(row.part)),
      ]).toEqual([
        name,
        [
          ...moduleStates.map(({ module }) => `${name} / ${module}`),
          ...(controllerOf(device, step)?.memory ?? [])
            .filter(({ health }) => health !== 'OK')
            .map(({ socket }) => `${name} / ${socket}`),
        ],
      ]);
      expect([name, own('modules').filter((row) => row.class === 'sensor').length]).toEqual([name, sensors.length]);
    }
  });
  test('every guest is on its own port and nowhere else', () => {
    const answering = new Set(truth.devices.map(({ name }) => name));
    const found = new Map(rowsOf('endpoints', step).map((row) => [row.mac, row]));
    for (const { mac, device, port, address } of truth.guests) {
      if (!answering.has(device)) continue;
      expect(found.get(mac)).toMatchObject({ mac, device, port, ...(address && { addresses: [address] }) });
    }
  });
  test('every cable that is up between devices that answer is a link, and there is no link that is no cable', () => {
    const answering = new Map(truth.devices.map((device) => [device.name, device]));
    const name = (a: { device: string; port: string }, b: { device: string; port: string }) =>
      [`${a.device} ${a.port}`, `${b.device} ${b.port}`].sort().join(' — ');
    const cables = truth.cables.filter(({ a, b }) =>
      [a, b].every(({ device, port }) => answering.get(device)?.ports.find((own) => own.name === port)?.oper === 'up'),
    );
    const links = rowsOf<
      MarkedRow & {
        a: { device: string; port: string };
        b: { device: string; port: string };
        members: { a: string; b: string }[];
      }
    >('links', step);
    // an aggregate is one link of as many cables as it has members
    const linked = links.flatMap(({ a, b, members }) =>
      members.length > 0 ? members.map((pair) => name({ ...a, port: pair.a }, { ...b, port: pair.b })) : [name(a, b)],
    );
    expect(
      links.filter(({ members }) => members.length > 0).map(({ a, b, members }) => [name(a, b), members.length]),
    ).toEqual([
      ['qdp-core-1 agg1 — qdp-core-2 agg1', 2],
      ['sgh-core-1 agg1 — sgh-core-2 agg1', 2],
    ]);
    // between routers that no bridge hears there is no evidence but their own neighbour reports
    expect(cables.map(({ a, b }) => name(a, b)).filter((cable) => !linked.includes(cable))).toEqual([]);
    const hosted = truth.devices.flatMap((host) =>
      (host.machines ?? []).flatMap((machine) =>
        machine.running ? [name({ device: host.name, port: '' }, { device: machine.name, port: 'eth0' })] : [],
      ),
    );
    // a machine that answers hangs on its host by no cable
    const machineLinks = linked.filter((link) => hosted.includes(link));
    expect(machineLinks.sort()).toEqual(
      hosted.filter((link) => [...answering.keys()].some((own) => link.includes(`${own} eth0`))).sort(),
    );
    const real = new Set([...truth.cables.map(({ a, b }) => name(a, b)), ...hosted]);
    const ofSilent = links
      .filter(({ a, b }) => !answering.has(a.device) || !answering.has(b.device))
      .map(({ a, b }) => name(a, b));
    expect(linked.filter((link) => !real.has(link) && !ofSilent.includes(link))).toEqual([]);
  });
});

describe('the planted oddities', () => {
  test.each(plantedOddities)('$name', ({ fromStep, thing, where, field, says, rows }) => {
    for (const step of [fromStep, storyLength]) {
      const found = rowsOf(thing, step, where);
      expect([step, found.length]).toEqual([step, rows]);
      for (const row of found) expect(String(row[field])).toMatch(says);
    }
  });
  test('none shows before its step', () => {
    for (const { name, fromStep, thing, where, rows } of plantedOddities)
      if (fromStep > 1) expect([name, rowsOf(thing, fromStep - 1, where).length === rows]).toEqual([name, false]);
  });
});

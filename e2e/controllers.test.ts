// covers: src/collect/adapters
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import type { SurveySummary } from '../src/collect/survey/surveySummary';
import type { ThingName } from '../src/core/things/things';
import { sealedSurvey } from '../src/server/query/calendar';
import { queryThing } from '../src/server/query/query';
import { FabricController } from '../src/sim/controllers/fabric';
import { HypervisorManager } from '../src/sim/controllers/hypervisors';
import { WirelessController } from '../src/sim/controllers/wireless';
import { ostermere } from '../src/sim/ostermere/estate';
import {
  fabricBox,
  fabricState,
  hypervisorState,
  restconfData,
  sampleControllerUser,
  sampleNetworkUser,
  spines,
  wirelessState,
} from '../src/sim/ostermere/services';
import { RestconfDevice } from '../src/sim/restconf/deviceService';
import { openSample, sampleKeys, type SampleStore } from './support/sampleStore';

/** RESTCONF and the private interfaces of controllers over real TLS. */
let sample: SampleStore;
const running: { close(): Promise<void> }[] = [];
const base = '127.209.0.0';
const port = 21_444;
const estate = ostermere(7);
const place = (host: string) => ({ address: `127.209.1.${host}`, port, ...sampleControllerUser });

beforeEach(async () => {
  sample = await openSample();
});
afterEach(async () => {
  await Promise.all(running.splice(0).map((service) => service.close()));
  sample.close();
});

async function start<Service extends { listen(): Promise<void>; close(): Promise<void> }>(
  service: Service,
): Promise<Service> {
  await service.listen();
  running.push(service);
  return service;
}
const survey = (...hosts: string[]): Promise<SurveySummary> =>
  sample.survey(
    { credentials: sampleKeys.filter(({ kind }) => kind === 'restconf' || kind === 'controller') },
    {
      ranges: hosts.map((host) => `10.72.1.${host}`),
      translations: [`10.72.0.0/16 via ${base}/16 https ${port}`],
      timeoutMs: 200,
      retries: 0,
    },
  );
const rowsOf = (thing: ThingName, surveyId: number, where = '') =>
  queryThing(sample.store, thing, { survey: surveyId, against: null, where, sort: [], page: 1, size: 1000 }).rows;
const present = <T>(value: T | null | undefined): T => {
  if (value === null || value === undefined) throw new Error('the sample lacks it');
  return value;
};

describe('RESTCONF', () => {
  const leaf = present(estate.devices.find(({ name }) => name === 'sgh-leaf-1'));
  const device = (more: Partial<RestconfDevice['setup']> = {}) =>
    new RestconfDevice({ ...place('25'), ...sampleNetworkUser, ...more }, restconfData(leaf, estate));
  test('gives a device its name, release, ports, modules and neighbours by the IETF’s models, wherever its root is', async () => {
    await start(device({ root: '/yang/api' }));
    expect(await survey('25')).toMatchObject({ devices: { found: 1 }, failures: [] });
    expect(rowsOf('devices', 1)).toMatchObject([
      {
        name: 'sgh-leaf-1',
        vendor: 'Fenmoor',
        model: 'Fen L32',
        serial: 'FL32-22101',
        release: '5.2.1',
        role: 'switch',
        location: 'Signal House, rack 6',
      },
    ]);
    const ports = rowsOf('ports', 1);
    expect(ports).toHaveLength(leaf.ports.length);
    expect(ports.find(({ name }) => name === 'e1/49')).toMatchObject({
      oper: 'up',
      speedBps: 100e9,
      alias: 'to sgh-core-1 8/3',
      neighbour: { device: 'sgh-core-1', port: '8/3' },
    });
    expect(
      rowsOf('modules', 1)
        .map(({ serial }) => serial)
        .filter(Boolean)
        .sort(),
    ).toEqual(
      leaf.modules
        .map(({ serial }) => serial)
        .filter(Boolean)
        .sort(),
    );
    expect(rowsOf('modules', 1, 'empty=yes')).toMatchObject([{ name: 'Module bay' }]);
  });
  test('lacking a module of the models is no fault; one that breaks off is a missing part', async () => {
    const service = await start(device());
    delete service.data['ieee802-dot1ab-lldp:lldp'];
    expect(await survey('25')).toMatchObject({ devices: { found: 1 }, failures: [] });
    service.service.disturbance = { cut: /ietf-hardware/ };
    const { failures, devices } = await survey('25');
    // nothing of it is another but how it fares
    expect(devices).toMatchObject({ found: 1, changed: 1 });
    expect(failures).toEqual(expect.arrayContaining([expect.objectContaining({ part: 'modules' })]));
    expect(rowsOf('modules', 2)).toHaveLength(rowsOf('modules', 1).length);
  });
  test('that does not come to say its name is no other device: what was known of it stays', async () => {
    const service = await start(device());
    await survey('25');
    service.service.disturbance = { deaf: /ietf-system:system$/ };
    const { devices } = await survey('25');
    expect(devices).toMatchObject({ new: 0, changed: 0 });
    expect(rowsOf('visits', 2)).toMatchObject([{ reason: expect.stringContaining('within the time limit') }]);
    expect(rowsOf('devices', 2)).toMatchObject([{ name: 'sgh-leaf-1' }]);
    expect(rowsOf('modules', 2)).toHaveLength(rowsOf('modules', 1).length);
  });
  test('that never lets this user read its name is taken all the same, by its address', async () => {
    const service = await start(device());
    service.service.disturbance = { closed: /ietf-system:system$/ };
    expect(await survey('25')).toMatchObject({ devices: { found: 1, new: 1 } });
    expect(rowsOf('devices', 1)).toMatchObject([{ name: '10.72.1.25' }]);
    expect(rowsOf('ports', 1)).toHaveLength(leaf.ports.length);
  });
  test('with a wrong password is refused', async () => {
    await start(device({ password: 'another' }));
    expect((await survey('25')).failures).toMatchObject([
      { reason: expect.stringContaining('RESTCONF rejects the user or the password of “network”') },
    ]);
  });
});

describe('a wireless controller', () => {
  test('tells its networks without their keys, and its access points as devices; the session is ended', async () => {
    const service = await start(new WirelessController(place('30'), present(wirelessState(estate, 7))));
    const points = estate.devices.filter(({ name }) => /-ap-/.test(name));
    const staff = estate.guests.filter(
      ({ name, device, port }) =>
        name.startsWith('staff-') &&
        estate.cables.some(
          ({ a, b }) => a.device === device && a.port === port && points.some((point) => point.name === b.device),
        ),
    );
    expect([points.length, staff.length]).toEqual([39, 68]);
    expect(await survey('30')).toMatchObject({ devices: { found: 40, new: 40 }, failures: [] });
    expect(rowsOf('wlans', 1)).toMatchObject([
      { name: 'OLR-Guest', security: 'open with portal', vlan: 60, clients: 0 },
      {
        name: 'OLR-Staff',
        security: 'WPA3-Enterprise',
        vlan: 40,
        enabled: true,
        accessPoints: 39,
        clients: 68,
        device: 'sgh-wlc',
      },
    ]);
    expect(rowsOf('devices', 1, 'role=access-point').map((row) => [row.name, row.serial, row.state])).toEqual(
      estate.devices
        .filter(({ name }) => /-ap-/.test(name))
        .map((point) => [point.name, present(point.modules[0]).serial, 'answering'])
        .sort(),
    );
    expect(service.openSessions).toBe(0);
    sample.store.raw.pragma('wal_checkpoint(TRUNCATE)');
    expect(readFileSync(path.join(sample.store.folder, 'bolide.sqlite')).includes('never-keep-this')).toBe(false);
  });
  test('whose interface changed says which field, and what it told before stays', async () => {
    const service = await start(new WirelessController(place('30'), present(wirelessState(estate, 7))));
    await survey('30');
    service.state = present(wirelessState(ostermere(8), 8));
    const { failures, devices } = await survey('30');
    expect(failures).toMatchObject([
      {
        address: '10.72.1.30',
        part: 'devices it looks after',
        reason: 'this interface changed: field “serial” of access-points items[] is missing',
      },
    ]);
    // the controller answers in part, and nothing else is another
    expect(devices.changed).toBe(1);
    expect(rowsOf('changes', 2, '-kind=silent')).toMatchObject([{ thing: 'device', field: 'state', after: 'partial' }]);
    expect(rowsOf('wlans', 2)).toHaveLength(2);
  });
  test('that is silent while its agent answers is told, and when it answered last; access points are not asked for it', async () => {
    await sample.fleet.moveTo(7);
    // the second time nobody is where HTTPS is looked for
    for (const https of [sample.port, 9])
      await sample.survey(
        { credentials: sampleKeys },
        {
          ranges: ['10.72.1.30', '10.72.4.8'],
          translations: [`10.72.0.0/16 via ${sample.base}/16 port ${sample.port} https ${https}`],
        },
      );
    const seen = (surveyId: number) =>
      rowsOf('devices', surveyId, 'name=sgh-wlc or name=rpw-ap-01') as unknown as {
        name: string;
        state: string;
        missing: object[];
        interfaces: { kind: string; lastAnswered: string }[];
      }[];
    const momentOf = (surveyId: number) => sealedSurvey(sample.store.db, surveyId)?.startedAt;
    const told = (surveyId: number) =>
      seen(surveyId).map(({ name, state, missing, interfaces }) => [
        name,
        state,
        missing,
        interfaces.map(({ kind, lastAnswered }) => [kind, lastAnswered]),
      ]);
    expect(told(1)).toEqual([
      [
        'rpw-ap-01',
        'answering',
        [],
        [
          ['snmp', momentOf(1)],
          ['wireless', momentOf(1)],
        ],
      ],
      [
        'sgh-wlc',
        'answering',
        [],
        [
          ['snmp', momentOf(1)],
          ['wireless', momentOf(1)],
        ],
      ],
    ]);
    expect(told(2)).toEqual([
      [
        'rpw-ap-01',
        'answering',
        [],
        [
          ['snmp', momentOf(2)],
          ['wireless', momentOf(1)],
        ],
      ],
      [
        'sgh-wlc',
        'partial',
        [{ part: 'Wireless controller', reason: 'does not answer', code: 'other' }],
        [
          ['snmp', momentOf(2)],
          ['wireless', momentOf(1)],
        ],
      ],
    ]);
  });
});

describe('a fabric controller', () => {
  test('tells leaves and spines as devices, the networks of its tenants, and where endpoints hang', async () => {
    const service = await start(new FabricController(place('31'), fabricState(estate)));
    expect(await survey('31')).toMatchObject({ devices: { found: 7 }, failures: [] });
    expect(rowsOf('devices', 1, 'name:spine').map(({ name, serial }) => [name, serial])).toEqual(
      spines.map(({ name, serial }) => [name, serial]),
    );
    expect(rowsOf('devices', 1, 'role=fabric-controller')).toMatchObject([
      { name: fabricBox.name, serial: fabricBox.serial },
    ]);
    expect(rowsOf('networks', 1).map(({ network, vrf }) => [network, vrf])).toEqual([
      ['10.72.40.0/24', 'operations:main'],
      ['10.72.41.0/24', 'operations:main'],
      ['10.72.42.0/24', 'ticketing:cards'],
    ]);
    expect(service.service.asked.filter((one) => one.startsWith('GET /fabric/1/endpoints'))).toEqual([
      'GET /fabric/1/endpoints',
      'GET /fabric/1/endpoints?from=4',
      'GET /fabric/1/endpoints?from=8',
      'GET /fabric/1/endpoints?from=12',
    ]);
  });
  test('whose pages lead in a circle is broken off with a word', async () => {
    const service = await start(new FabricController(place('31'), fabricState(estate)));
    const honest = service.service.answer;
    Object.assign(service.service, {
      answer: (request: Parameters<typeof honest>[0]) =>
        request.path === '/fabric/1/nodes'
          ? { status: 200, body: { nodes: fabricState(estate).nodes.slice(0, 1), nextPage: '/fabric/1/nodes' } }
          : honest(request),
    });
    expect((await survey('31')).failures).toMatchObject([
      { part: 'devices it looks after', reason: expect.stringContaining('do not end') },
    ]);
  });
});

describe('a hypervisor manager', () => {
  test('tells each machine with host, cluster, network and uplinks, and its datastores', async () => {
    await start(new HypervisorManager(place('32'), hypervisorState(estate)));
    expect(await survey('32')).toMatchObject({ devices: { found: 1 }, failures: [] });
    const machines = rowsOf('machines', 1);
    expect(machines).toHaveLength(6);
    expect(machines.find(({ name }) => name === 'vm-test-1')).toMatchObject({
      state: 'off',
      host: 'sgh-srv-04',
      cluster: 'signal-house',
      networks: ['OPS'],
      memoryBytes: 2 ** 31,
    });
    expect(rowsOf('devices', 1)).toMatchObject([{ name: 'sgh-hvm', serial: '', role: 'virtual-machine' }]);
  });
  test('with a wrong type in one machine keeps the others and names the field', async () => {
    const state = hypervisorState(estate);
    const first = present(state.machines[0]);
    await start(
      new HypervisorManager(place('32'), {
        ...state,
        machines: [{ ...first, memoryMiB: '4096' as unknown as number }, ...state.machines.slice(1)],
      }),
    );
    expect((await survey('32')).failures).toMatchObject([
      {
        part: 'virtual machines',
        reason: 'this interface changed: field “memoryMiB” of machines items[] is not what it was (number expected)',
      },
    ]);
    expect(rowsOf('machines', 1)).toHaveLength(5);
  });
});

test('controllers are asked for each interface once, and a service that is none of them is left alone', async () => {
  const service = await start(new FabricController(place('31'), fabricState(estate)));
  await survey('31');
  const logins = service.service.asked.filter((one) => one.startsWith('POST'));
  expect(logins).toEqual([]);
  expect(service.service.asked.slice(0, 3)).toEqual([
    'GET /.well-known/host-meta',
    'GET /wlc/v2/about',
    'GET /fabric/1',
  ]);
});

test('a controller that asks for a login at every door is not sent the password of another kind', async () => {
  const manager = await start(new HypervisorManager(place('32'), hypervisorState(estate)));
  const everyKind = await sample.survey(
    { credentials: sampleKeys.filter(({ kind }) => kind !== 'snmp2c' && kind !== 'snmp3') },
    {
      ranges: ['10.72.1.32'],
      translations: [`10.72.0.0/16 via ${base}/16 https ${port}`],
      timeoutMs: 200,
      retries: 0,
    },
  );
  expect(everyKind).toMatchObject({ devices: { found: 1 }, failures: [] });
  // it answers 401 to the root of Redfish as to everything it does not know
  expect(manager.service.asked[0]).toBe('GET /redfish/v1/');
  expect(manager.service.asked.filter((one) => one.startsWith('POST'))).toEqual(['POST /hv/session']);
});

// covers: src/collect/redfish src/core/resources src/sim/redfish
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { cpSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { HttpsClient } from '../src/collect/https/httpsClient';
import { readTreeFolder } from '../src/collect/files/treeFolder';
import type { SurveySummary } from '../src/collect/survey/surveySummary';
import type { ThingName } from '../src/core/things/things';
import { readingList } from '../src/server/settings/readings';
import { deviceDossier } from '../src/server/estate/dossier';
import { sealedSurvey } from '../src/server/query/calendar';
import { queryThing } from '../src/server/query/query';
import { selfSigned } from '../src/sim/https/certificate';
import { controllerOf, sampleHardwareUser } from '../src/sim/ostermere/controllers';
import { ostermere } from '../src/sim/ostermere/estate';
import { ManagementController } from '../src/sim/redfish/controller';
import { serverTree } from '../src/sim/redfish/serverTree';
import { saveReadingRule } from '../src/store/readingRules';
import { acceptOffered, changedCertificates } from '../src/store/certificates';
import { openSample, sampleKeys, type SampleStore } from './support/sampleStore';

/** Redfish over real TLS: sgh-srv-04, whose memory module has failed, and its management controller. */
let sample: SampleStore;
let controller: ManagementController | null = null;
const base = '127.208.0.0';
const address = '10.72.2.14';
const outside = '127.208.2.14';
const behind = '127.208.3.14';
const port = 21_443;
const device = ostermere(8).devices.find(({ name }) => name === 'sgh-srv-04');
const box = device && controllerOf(device, 8);
if (!device || !box) throw new Error('the sample has no such server');
const tree = serverTree(box);
const hardware = sampleKeys.filter(({ kind }) => kind === 'redfish');

beforeEach(async () => {
  sample = await openSample();
});
afterEach(async () => {
  await controller?.close();
  controller = null;
  sample.close();
});

async function serve(
  setup: Partial<ManagementController['setup']> = {},
  resources = tree,
  certificate?: Awaited<ReturnType<typeof selfSigned>>,
): Promise<ManagementController> {
  controller = new ManagementController(
    { address: outside, port, ...sampleHardwareUser, pageSize: 5, ...setup },
    resources,
  );
  await controller.listen(certificate);
  return controller;
}
const survey = (
  more: Parameters<SampleStore['survey']>[0] = {},
  scope: Parameters<SampleStore['survey']>[1] = {},
): Promise<SurveySummary> =>
  sample.survey(
    { credentials: hardware, ...more },
    {
      ranges: [address],
      translations: [`10.72.0.0/16 via ${base}/16 https ${port}`],
      timeoutMs: 200,
      retries: 0,
      ...scope,
    },
  );
const rowsOf = (thing: ThingName, surveyId: number, where = '') =>
  queryThing(sample.store, thing, { survey: surveyId, against: null, where, sort: [], page: 1, size: 1000 }).rows;
const momentOf = (surveyId: number) => sealedSurvey(sample.store.db, surveyId)?.startedAt;

describe('a management controller', () => {
  test('gives the values of its resources that somebody asked for, over time, with their bounds', async () => {
    await serve({}, serverTree({ ...box, generation: 'lists' }));
    saveReadingRule(sample.store.db, {
      name: 'watts',
      where: 'role=server site=SGH',
      resource: '/redfish/v1/Chassis/enclosure/Power#/PowerControl/0/PowerConsumedWatts',
      unit: 'W',
      above: 200,
    });
    saveReadingRule(sample.store.db, {
      name: 'somewhere else',
      where: 'site=QDP',
      resource: '/redfish/v1/Chassis/enclosure/Power#/PowerControl/0/PowerConsumedWatts',
    });
    saveReadingRule(sample.store.db, { name: 'not there', where: '', resource: '/redfish/v1/Nothing#/At/All' });
    // who is not known yet is not known to be meant
    await survey();
    expect(deviceDossier(sample.store, '1', 1)?.readings.filter(({ name }) => name === 'watts')).toEqual([]);
    await survey();
    await survey();
    expect(deviceDossier(sample.store, '1', 3)?.readings.filter(({ name }) => name === 'watts')).toMatchObject([
      { name: 'watts', unit: 'W', above: 200, points: [{ value: 212 }, { value: 212 }] },
    ]);
    expect(rowsOf('faults', 3, 'subsystem=readings')).toMatchObject([
      { device: 'sgh-srv-04', part: 'watts', message: 'is above 200 W' },
    ]);
    expect(readingList(sample.store).rows.map(({ name, devices, answered }) => [name, devices, answered])).toEqual([
      ['not there', 1, 0],
      ['somewhere else', 0, 0],
      ['watts', 1, 1],
    ]);
  });
  test('must show a certificate of an authority where the scope names some', async () => {
    const trusted = await selfSigned('controller', address);
    await serve({}, tree, trusted);
    expect(await survey({}, { authorities: trusted.cert })).toMatchObject({ devices: { found: 1 }, failures: [] });
    const another = await selfSigned('controller', address);
    expect((await survey({}, { authorities: another.cert })).failures).toMatchObject([
      { reason: expect.stringContaining('shows a certificate that the authorities do not cover') },
    ]);
    // signed by one that is trusted, for another machine
    await controller?.close();
    const stolen = await selfSigned('controller', '10.72.2.99');
    await serve({}, tree, stolen);
    expect((await survey({}, { authorities: stolen.cert })).failures).toMatchObject([
      { reason: expect.stringContaining('shows a certificate for somebody else') },
    ]);
  });
  test.each(['lists', 'subsystems'] as const)(
    'tells chassis, sockets, drives, supplies, fans, firmware and faults (%s)',
    async (generation) => {
      await serve({}, serverTree({ ...box, generation }));
      expect(await survey()).toMatchObject({
        addresses: { asked: 1, answered: 1 },
        devices: { found: 1, new: 1 },
        failures: [],
      });
      expect(rowsOf('devices', 1)).toMatchObject([
        {
          name: 'sgh-srv-04',
          role: 'server',
          vendor: 'Brannick',
          model: 'Brannick R2',
          serial: 'BR2-118204',
          memoryBytes: 48 * 2 ** 30,
          address,
          state: 'answering',
          credential: 'hardware',
        },
      ]);
      const modules = rowsOf('modules', 1);
      const serials = [
        box.server.serial,
        ...box.memory.map(({ serial }) => serial),
        ...box.drives.map(({ serial }) => serial),
        ...box.supplies.map(({ serial }) => serial),
        'BN-8204',
      ]
        .filter(Boolean)
        .sort();
      expect(
        modules
          .map(({ serial }) => serial)
          .filter(Boolean)
          .sort(),
      ).toEqual(serials);
      expect(modules.filter(({ empty }) => empty).map(({ name }) => name)).toEqual([
        'DIMM 5',
        'DIMM 6',
        'DIMM 7',
        'DIMM 8',
        'Drive 3',
        'Drive 4',
      ]);
      expect(modules.filter((row) => row.class === 'fan').map(({ name }) => name)).toEqual([
        'Fan 1',
        'Fan 2',
        'Fan 3',
        'Fan 4',
      ]);
      expect(
        rowsOf('software', 1)
          .map(({ name, version }) => `${String(name)} ${String(version)}`)
          .sort(),
      ).toEqual(box.firmware.map(({ name, version }) => `${name} ${version}`).sort());
      expect(rowsOf('faults', 1)).toMatchObject([
        {
          subsystem: 'memory',
          part: 'sgh-srv-04 / DIMM 4',
          severity: 'critical',
          message: expect.stringContaining('DIMM 4 was taken out of use'),
          action: 'Replace the module in DIMM 4 at the next restart.',
          since: '2026-11-20T22:41:09.000Z',
        },
      ]);
      expect(rowsOf('ports', 1, 'name:"management controller"')).toMatchObject([
        { mac: box.controller.mac, addresses: [`${address}/24`], oper: 'up', speedBps: 1e9 },
      ]);
    },
  );
  test('is asked politely: few requests at once, every page once, and the session is ended', async () => {
    const running = await serve();
    await survey();
    expect(running.openSessions).toBe(0);
    expect(running.service.mostAtOnce).toBeLessThanOrEqual(4);
    const reads = running.service.asked.filter((one) => one.startsWith('GET') && one !== 'GET /redfish/v1/');
    expect(reads.length).toBe(new Set(reads).size);
    expect(reads.some((one) => one.includes('$skip=5'))).toBe(true);
    expect(running.service.asked.some((one) => one.includes('AccountService') || one.includes('/Bios/'))).toBe(false);
  });
  test('that knows no sessions is asked by Basic', async () => {
    const running = await serve({ sessions: false });
    expect(await survey()).toMatchObject({ devices: { found: 1 }, failures: [] });
    expect(running.service.asked.filter((one) => one.startsWith('DELETE'))).toEqual([]);
  });
  test('and the system of its server are one device, whichever was seen first', async () => {
    await sample.fleet.moveTo(8);
    const scope = {
      ranges: ['10.72.1.14', address],
      translations: [
        `10.72.1.0/24 via ${sample.base.replace('.0.0', '.1.0')}/24 port ${sample.port}`,
        `10.72.2.0/24 via ${base.replace('.0.0', '.2.0')}/24 port 9 https ${port}`,
      ],
    };
    await serve();
    const first = await survey({ credentials: hardware }, scope);
    expect(first.devices).toMatchObject({ found: 1, new: 1 });
    const both = await survey({ credentials: sampleKeys }, scope);
    expect(both.devices).toMatchObject({ found: 1, new: 0, replaced: 0 });
    const [row] = rowsOf('devices', 2);
    expect(row).toMatchObject({
      name: 'sgh-srv-04',
      address: '10.72.1.14',
      addresses: ['10.72.1.14', address],
      release: '6.1.4',
      role: 'hypervisor',
      memoryBytes: 48 * 2 ** 30,
    });
    expect((row as { interfaces?: unknown[] } | undefined)?.interfaces).toMatchObject([
      { kind: 'snmp', address: '10.72.1.14' },
      { kind: 'redfish', address, release: '3.11' },
    ]);
    expect(
      rowsOf('ports', 2)
        .map(({ name }) => name)
        .sort(),
    ).toEqual(['eth0', 'eth1', 'eth2', 'eth3', 'lo', 'management controller']);
    expect(rowsOf('modules', 2, 'name="DIMM 4"')).toMatchObject([{ serial: 'BM-602159' }]);
    expect([rowsOf('services', 2).length > 5, rowsOf('software', 2, 'kind=firmware').length]).toEqual([true, 4]);
    const again = await survey({ credentials: sampleKeys }, scope);
    expect([again.devices.changed, rowsOf('changes', 3)]).toEqual([0, []]);
    // the controller alone keeps silent: what it told stays
    await controller?.close();
    await survey({ credentials: sampleKeys }, scope);
    expect([rowsOf('changes', 4), rowsOf('modules', 4, 'name="DIMM 4"').length, rowsOf('faults', 4).length]).toEqual([
      [expect.objectContaining({ thing: 'device', field: 'state', before: 'answering', after: 'partial' })],
      1,
      1,
    ]);
    // and that it is silent is told, though the system answers
    expect(rowsOf('devices', 4)).toMatchObject([
      {
        state: 'partial',
        missing: [{ part: `Redfish at ${address}`, reason: 'does not answer' }],
        interfaces: [{ lastAnswered: momentOf(4) }, { lastAnswered: momentOf(3) }],
      },
    ]);
    expect(rowsOf('visits', 4, `address=${address}`)).toMatchObject([
      { outcome: 'silent', reason: 'Redfish answered here before and does not now' },
    ]);
    // as it was looked at before, it answered
    expect(rowsOf('devices', 2)).toMatchObject([
      { state: 'answering', missing: [], interfaces: [{ lastAnswered: momentOf(2) }, { lastAnswered: momentOf(2) }] },
    ]);
  });
});

describe('what may go wrong', () => {
  test('a wrong password is told, and tried once only', async () => {
    const running = await serve();
    const { failures } = await survey({
      credentials: [{ name: 'guess', kind: 'redfish', user: 'olr-hardware', password: 'not-this-one' }],
    });
    expect(failures).toMatchObject([
      {
        address,
        part: 'probe',
        reason: expect.stringMatching(/Redfish rejects the user or the password of “guess”/),
        remedy: expect.stringContaining('lock'),
      },
    ]);
    expect(running.refusals).toBe(1);
  });
  test('another certificate than before is not trusted, nor sent a password, until somebody says so', async () => {
    const first = await serve();
    expect(await survey()).toMatchObject({ devices: { found: 1 } });
    await first.close();
    const second = await serve();
    const { failures, devices } = await survey();
    expect(devices.found).toBe(0);
    expect(failures).toMatchObject([
      {
        reason: expect.stringContaining('another certificate than before'),
        remedy: expect.stringContaining('trust the new one'),
      },
    ]);
    expect(second.service.asked).toEqual([]);
    expect(rowsOf('devices', 2)).toMatchObject([{ name: 'sgh-srv-04' }]);
    expect(changedCertificates(sample.store.db)).toMatchObject([{ address, port }]);
    expect(acceptOffered(sample.store.db, address, port, new Date())).toMatch(/^([0-9A-F]{2}:){31}/);
    expect(await survey()).toMatchObject({ devices: { found: 1 }, failures: [] });
    expect(changedCertificates(sample.store.db)).toEqual([]);
  });
  test('that nobody could connect to at first, its queue being full, is tried again once it is known', async () => {
    // the kernel leaves a SYN unanswered while the queue of a listener that accepts nothing is full
    const relay = spawn(
      process.execPath,
      [
        '-e',
        `require('net').createServer((from) => { const to = require('net').connect(${port}, '${behind}'); from.pipe(to).pipe(from); for (const end of [from, to]) end.on('error', () => { from.destroy(); to.destroy(); }); }).listen({ host: '${outside}', port: ${port}, backlog: 4 }, () => console.log('listening'))`,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'] },
    );
    const waiting: net.Socket[] = [];
    try {
      await once(relay.stdout, 'data');
      await serve({ address: behind });
      expect(await survey()).toMatchObject({ devices: { found: 1 }, failures: [] });
      relay.kill('SIGSTOP');
      for (let at = 0; at < 12; at++) waiting.push(net.connect(port, outside).on('error', () => undefined));
      setTimeout(() => {
        for (const socket of waiting) socket.destroy();
        relay.kill('SIGCONT');
      }, 1000);
      expect(await survey({}, { retries: 10 })).toMatchObject({ devices: { found: 1 }, failures: [] });
    } finally {
      for (const socket of waiting) socket.destroy();
      relay.kill('SIGKILL');
    }
  });
  test('a busy service is waited for as it asks; one that stays busy is told', async () => {
    const running = await serve();
    running.service.disturbance = { busy: { times: 3, retryAfter: '0' } };
    expect(await survey()).toMatchObject({ devices: { found: 1 }, failures: [] });
    running.service.disturbance = { busy: { times: 1000, retryAfter: '3600' } };
    const { failures, devices } = await survey();
    expect(devices.found).toBe(0);
    expect(failures).toMatchObject([{ address, reason: expect.stringContaining('busy') }]);
  });
  test.each([
    ['garbled', { garbled: /\/Memory$/ }, 'modules', 'no JSON'],
    ['cut off in the middle', { cut: /\/Power$|\/PowerSupplies$/ }, 'modules', /broke off/],
    ['silent at one place', { deaf: /FirmwareInventory$/ }, 'installed software', /within the time limit/],
    ['silent about its log', { deaf: /Entries$/ }, 'sensors and states of parts', /within the time limit/],
  ])(
    'an answer that is %s costs that part alone, and what was known of it stays',
    async (_, disturbance, part, reason) => {
      const running = await serve();
      await survey();
      running.service.disturbance = disturbance;
      const { failures, devices } = await survey();
      // nothing of it is another but how it fares
      expect(devices).toMatchObject({ found: 1, changed: 1 });
      expect(failures).toEqual(
        expect.arrayContaining([
          expect.objectContaining({
            address,
            part,
            reason: typeof reason === 'string' ? expect.stringContaining(reason) : expect.stringMatching(reason),
          }),
        ]),
      );
      expect(rowsOf('changes', 2)).toEqual([
        expect.objectContaining({ thing: 'device', field: 'state', before: 'answering', after: 'partial' }),
      ]);
      expect(rowsOf('modules', 2).length).toBe(rowsOf('modules', 1).length);
    },
  );
  test('a controller that does not come to its system is no other server: what was known of it stays', async () => {
    const running = await serve();
    await survey();
    running.service.disturbance = { deaf: /\/Systems\/node$/ };
    const { devices } = await survey();
    expect(devices).toMatchObject({ new: 0, changed: 0 });
    expect(rowsOf('devices', 2)).toMatchObject([{ name: rowsOf('devices', 1)[0]?.name }]);
    expect(rowsOf('modules', 2)).toHaveLength(rowsOf('modules', 1).length);
  });
  test('a controller that never lets this user read its system is taken all the same, by its chassis', async () => {
    const running = await serve();
    running.service.disturbance = { closed: /\/Systems\/node$/ };
    expect(await survey()).toMatchObject({ devices: { found: 1, new: 1 } });
    expect(rowsOf('modules', 1).length).toBeGreaterThan(0);
  });
  test('a link with a blank and a foreign letter in it is followed all the same', async () => {
    const careless = new Map(tree);
    const drive = '/redfish/v1/Systems/node/Storage/internal/Drives/0';
    const odd = '/redfish/v1/Systems/node/Storage/internal/Drives/Bay ä';
    careless.set(encodeURI(odd), { ...tree.get(drive), '@odata.id': odd, SerialNumber: 'BD-ODD' });
    careless.set('/redfish/v1/Systems/node/Storage/internal', {
      ...tree.get('/redfish/v1/Systems/node/Storage/internal'),
      Drives: [{ '@odata.id': odd }],
    });
    await serve({}, careless);
    expect(await survey()).toMatchObject({ devices: { found: 1 }, failures: [] });
    expect(rowsOf('modules', 1, 'serial=BD-ODD')).toHaveLength(1);
  });
  test('a slow page is waited for', async () => {
    const running = await serve();
    running.service.disturbance = { slow: { path: /Systems\/node$/, ms: 500 } };
    expect(await survey()).toMatchObject({ devices: { found: 1 }, failures: [] });
  });
  test('pages that lead in a circle end, with a word', async () => {
    const circle = new Map(tree);
    const entries = '/redfish/v1/Systems/node/LogServices/events/Entries';
    circle.set(entries, { ...tree.get(entries), 'Members@odata.nextLink': entries });
    await serve({}, circle);
    const { failures } = await survey();
    expect(failures).toMatchObject([
      { part: 'sensors and states of parts', reason: expect.stringContaining('lead back') },
    ]);
  });
  test('one that takes the connection and says nothing is asked once more before it is given up', async () => {
    const running = await serve();
    running.service.disturbance = { mute: { times: 1 } };
    expect(await survey()).toMatchObject({ devices: { found: 1 }, failures: [] });
  });
  test('one that takes connections and never says a word is a machine, not silence; one known before is silent', async () => {
    const running = await serve();
    running.service.disturbance = { mute: { times: Infinity } };
    await survey();
    expect(rowsOf('visits', 1)).toMatchObject([
      { outcome: 'alive', reason: expect.stringContaining('takes connections for HTTPS') },
    ]);
    running.service.disturbance = {};
    await survey();
    running.service.disturbance = { mute: { times: Infinity } };
    await survey();
    expect(rowsOf('visits', 3)).toMatchObject([
      { outcome: 'silent', reason: 'Redfish answered here before and does not now' },
    ]);
    expect(rowsOf('devices', 3)).toMatchObject([{ state: 'silent' }]);
  });
  test('who answers HTTPS, but nothing we can read, is a machine to look after', async () => {
    await serve({}, new Map());
    const { addresses } = await survey();
    expect(addresses.answered).toBe(0);
    expect(rowsOf('visits', 1)).toMatchObject([
      { outcome: 'alive', reason: expect.stringContaining('none of the interfaces') },
    ]);
  });
});

describe('certificates that authorities sign', () => {
  const options = {
    timeoutMs: 500,
    concurrency: 2,
    certificates: { pinned: () => null, pin: () => undefined, offered: () => undefined },
    cancelled: () => false,
  };
  test('are taken when an authority covers them, and refused when not or when they name somebody else', async () => {
    const certificate = await selfSigned('sgh-srv-04 controller', outside);
    await serve({}, tree, certificate);
    const ask = async (name: string, authorities: string) => {
      const client = new HttpsClient({ address: outside, port, name }, { ...options, authorities });
      try {
        return (await client.ask('/redfish/v1/')).status;
      } catch (error) {
        return (error as Error).message;
      } finally {
        client.close();
      }
    };
    expect(await ask(outside, certificate.cert)).toBe(200);
    expect(await ask(outside, (await selfSigned('somebody else', outside)).cert)).toContain('authorities do not cover');
    expect(await ask('10.9.9.9', certificate.cert)).toContain('for somebody else');
  });
});

test('a folder of trees gives the same as the service it was taken from; what is no tree is told', async () => {
  await serve({ pageSize: 1000 });
  await survey();
  const folder = mkdtempSync(path.join(tmpdir(), 'bolide-trees-'));
  for (const [resource, content] of tree) {
    const place = path.join(folder, address, resource);
    mkdirSync(place, { recursive: true });
    writeFileSync(path.join(place, 'index.json'), JSON.stringify(content));
  }
  cpSync(path.join(folder, address), path.join(folder, 'not-an-address'), { recursive: true });
  mkdirSync(path.join(folder, '10.72.2.99'));
  const { trees, problems } = readTreeFolder(folder);
  expect([[...trees.keys()], problems.map(({ file }) => file)]).toEqual([[address], ['10.72.2.99', 'not-an-address']]);
  await survey({ credentials: [], trees });
  const telling = (thing: ThingName, surveyId: number) =>
    rowsOf(thing, surveyId).map(
      ({
        firstSeen: _first,
        lastSeen: _last,
        credential: _credential,
        lastAnswered: _answered,
        interfaces: _interfaces,
        askedSeconds: _asked,
        ...row
      }) => row,
    );
  for (const thing of ['devices', 'modules', 'ports', 'software', 'faults'] as const)
    expect([thing, telling(thing, 2)]).toEqual([thing, telling(thing, 1)]);
  await expect(trees.get(address)?.get('/redfish/v1/../../../secret')).rejects.toMatchObject({ fault: 'absent' });
  rmSync(folder, { recursive: true, force: true });
});

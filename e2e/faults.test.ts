import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { rmSync } from 'node:fs';
import { createSocket } from 'node:dgram';
import fc from 'fast-check';
import { runSurvey } from '../src/collect/survey/runSurvey';
import type { SurveySummary } from '../src/collect/survey/surveySummary';
import type { Credential } from '../src/core/estate/credential';
import { readScope, scopeDefaults } from '../src/core/estate/scope';
import { answersOf, engineIdOf } from '../src/sim/ostermere/answers';
import { ostermere } from '../src/sim/ostermere/estate';
import * as ber from '../src/sim/snmp/ber';
import { Agent, type AgentSetup } from '../src/sim/snmp/agent';
import type { AgentUser } from '../src/sim/snmp/usm';
import { ObjectTree, ObjectWriter } from '../src/sim/snmp/objects';
import { factsAsOf } from '../src/store/base/facts';
import { openStore, type Store } from '../src/store/base/database';
import { readSignatures } from '../src/store/programFiles';
import { survey as surveyTable, visit } from '../src/store/base/schema';
import { latestSealed } from '../src/store/base/sealedSurveys';
import { DisturbedAgent, type Disturbance } from './support/disturbedAgent';
import { freeUdpPort, temporaryFolder } from './support/program';

/** Devices that die half-way, lie or babble, at the socket: what was known stays, and the outcome says what happened. */
const address = '127.201.4.2';
let port: number;
let folder: string;
let store: Store;
const agents: { close(): void }[] = [];
const community: Credential = { name: 'c', kind: 'snmp2c', community: 'faults' };

const estate = ostermere(1);
const device = estate.devices.find(({ name }) => name === 'rpw-plat');
const objects = answersOf(estate).get('rpw-plat');

async function listen(tree: ObjectTree, more: { silentAfter?: number } = {}): Promise<Agent> {
  if (!device) throw new Error('the sample has no rpw-plat');
  const agent = new Agent(
    { address, port, engineId: engineIdOf(device), communities: ['faults'], users: [], ...more },
    tree,
  );
  agents.push(agent);
  await agent.listen();
  return agent;
}

function survey({
  retries = 0,
  timeoutMs = 150,
  ranges = [address],
  concurrency = 256,
  credentials = [community] as Credential[],
} = {}): Promise<SurveySummary> {
  const read = readScope({ ...scopeDefaults, name: 'faults', ranges, port, timeoutMs, retries, concurrency });
  if ('mistakes' in read) throw new Error('wrong scope');
  return runSurvey(store, {
    scope: read.scope,
    scopeName: 'faults',
    credentials,
    signatures: readSignatures(folder),
  });
}

beforeEach(async () => {
  port = await freeUdpPort();
  folder = temporaryFolder();
  store = openStore(folder);
});
afterEach(() => {
  for (const agent of agents.splice(0)) agent.close();
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('a device that stops answering half-way', () => {
  test('is partial with the missing parts named, and loses nothing that was known', async () => {
    if (!objects) throw new Error('no answers');
    const whole = await listen(objects);
    expect(await survey()).toMatchObject({ devices: { found: 1, new: 1 }, failures: [] });
    const contents = (kind: 'port' | 'module', survey: number) =>
      factsAsOf(store.db, kind, survey).map(({ content }) => content);
    const known = {
      modules: contents('module', 1),
      ports: contents('port', 1),
      device: factsAsOf(store.db, 'device', 1)[0]?.content,
    };
    whole.close();
    for (const silentAfter of [3, 6, 9, 12, 15, 18, 21, 24]) {
      const dying = await listen(objects, { silentAfter });
      const summary = await survey();
      dying.close();
      expect(summary.devices).toMatchObject({ found: 1, new: 0, replaced: 0 });
      expect(summary.failures.length).toBeGreaterThan(0);
      expect(
        summary.failures.every(
          ({ part, reason, remedy }) =>
            part !== '' && /stopped answering|answered nothing else/.test(reason) && remedy !== '',
        ),
      ).toBe(true);
      const visits = store.db.select().from(visit).all();
      expect(visits.at(-1)).toMatchObject({ outcome: 'partial', reason: expect.stringContaining('without') });
      expect(contents('module', summary.survey)).toEqual(known.modules);
      expect(contents('port', summary.survey)).toEqual(known.ports);
      expect(factsAsOf(store.db, 'device', summary.survey)[0]?.content).toEqual(known.device);
    }
  });
});

async function disturbed(
  disturb: Disturbance,
  more: Partial<AgentSetup> = {},
  tree = objects,
): Promise<DisturbedAgent> {
  if (!device || !tree) throw new Error('the sample has no rpw-plat');
  const agent = new DisturbedAgent(
    { address, port, engineId: engineIdOf(device), communities: ['faults'], users: [], ...more },
    tree,
    disturb,
  );
  agents.push(agent);
  await agent.listen();
  return agent;
}
const plainly: Disturbance = (octets) => [{ octets }];
const outcome = () => store.db.select().from(visit).all().at(-1);
const whole = { devices: { found: 1 }, failures: [] };

describe('a path that is bad', () => {
  test('one answer in ten lost: everything is there all the same', async () => {
    let dice = 7;
    await disturbed((octets) =>
      Math.floor((dice = (dice * 1103515245 + 12345) % 2 ** 31) / 2 ** 16) % 10 === 0 ? [] : [{ octets }],
    );
    expect(await survey({ retries: 4 })).toMatchObject(whole);
    expect(factsAsOf(store.db, 'port', 1)).toHaveLength(device?.ports.length ?? 0);
  });
  test('answers that come after their time, and twice, are taken once', async () => {
    await disturbed((octets, count) =>
      count % 3 === 0
        ? [
            { octets, afterMs: 200 },
            { octets, afterMs: 230 },
          ]
        : [{ octets }, { octets }],
    );
    expect(await survey({ retries: 3 })).toMatchObject(whole);
    expect(factsAsOf(store.db, 'module', 1)).toHaveLength(
      (device?.modules.length ?? 0) + (device?.sensors?.length ?? 0),
    );
  });
  test('a slow device is whole if the time limit lets it', async () => {
    await disturbed((octets) => [{ octets, afterMs: 60 }]);
    expect(await survey({ timeoutMs: 300 })).toMatchObject(whole);
  });
});

describe('answers that are none', () => {
  test.each<[string, Disturbance, RegExp]>([
    ['garbage', () => [{ octets: Buffer.from('garbage of some length') }], /no SNMP message/],
    [
      'half a datagram',
      (octets) => [{ octets: octets.subarray(0, Math.floor(octets.length / 2)) }],
      /no SNMP message|cannot be read/,
    ],
    ['another request number', (octets) => [{ octets: renumbered(octets) }], /a number that nobody asked with/],
    ['another address', (octets) => [{ octets, elsewhere: true }], /come from 127\.201\.4\.99/],
  ])('%s is told as what it is, with a remedy, and not taken', async (_, disturb, words) => {
    await disturbed(disturb);
    const { failures, devices } = await survey();
    expect(devices.found).toBe(0);
    expect(failures).toEqual([
      { address, part: 'probe', reason: expect.stringMatching(words), remedy: expect.stringMatching(/.{20}/) },
    ]);
    expect(outcome()).toMatchObject({ outcome: 'failed' });
  });
  test('garbage between good answers costs a retry and nothing else', async () => {
    await disturbed((octets, count) =>
      count % 4 === 0 ? [{ octets: Buffer.from([0x30, 0x82, 0xff]) }] : [{ octets: Buffer.alloc(40, 7) }, { octets }],
    );
    expect(await survey({ retries: 2 })).toMatchObject(whole);
  });
  test('an error of the agent for one table leaves the others whole', async () => {
    const contentsOf = (of: Store) =>
      (['module', 'vlan'] as const).map((kind) => ({
        kind,
        contents: factsAsOf(of.db, kind, 1).map(({ content }) => content),
      }));
    await disturbed(plainly);
    await survey();
    const known = contentsOf(store);
    // the same device, new to another store, with one table that cannot be had
    for (const agent of agents.splice(0)) agent.close();
    store.close();
    rmSync(folder, { recursive: true, force: true });
    folder = temporaryFolder();
    store = openStore(folder);
    // whatever is asked of the extended interface table (1.3.6.1.2.1.31.1.1.1), at every try
    const extended = Buffer.from('2b060102011f010101', 'hex');
    await disturbed((octets) => [{ octets: octets.includes(extended) ? withErrorStatus(octets, 5) : octets }]);
    const { failures } = await survey();
    expect(failures).toMatchObject([{ reason: expect.stringContaining('genErr') }]);
    expect(contentsOf(store)).toEqual(known);
    expect(known.filter(({ contents }) => contents.length > 0).length).toBeGreaterThan(1);
  });
});

/** A v2c answer with another request id, or error status: both are found behind the community by their tags. */
function renumbered(octets: Buffer): Buffer {
  const copy = Buffer.from(octets);
  // the message number of version 3 stands in its head, the request number of the others in the PDU
  const version = copy.indexOf(Buffer.from('0201', 'hex'));
  const before = copy[version + 2] === 3 ? copy.indexOf(0x30, version + 3) : copy.indexOf(0xa2, 12);
  const id = behindLength(copy, before);
  copy[id + (copy[id + 1] ?? 1) + 1] = ((copy[id + (copy[id + 1] ?? 1) + 1] ?? 0) + 101) & 0xff;
  return copy;
}
function withErrorStatus(octets: Buffer, status: number): Buffer {
  const copy = Buffer.from(octets);
  const id = behindLength(copy, copy.indexOf(0xa2, 12));
  copy[id + 2 + (copy[id + 1] ?? 1) + 2] = status;
  return copy;
}

/** Where what an element holds begins: its length may take several octets, any of which may look like a tag. */
const behindLength = (octets: Buffer, tag: number): number => {
  const first = octets[tag + 1] ?? 0;
  return tag + 2 + (first < 128 ? 0 : first - 128);
};

describe('SNMPv3', () => {
  const user: AgentUser = {
    name: 'olr',
    authProtocol: 'SHA-256',
    authPassword: 'lantern-quay-1',
    privProtocol: 'AES-128',
    privPassword: 'lantern-quay-2',
  };
  const credential: Credential = {
    name: 'v3',
    kind: 'snmp3',
    user: 'olr',
    auth: { protocol: 'SHA-256', password: 'lantern-quay-1' },
    priv: { protocol: 'AES-128', password: 'lantern-quay-2' },
  };
  test('an agent that starts again in the middle is read to the end', async () => {
    const found: { agent?: DisturbedAgent } = {};
    found.agent = await disturbed(
      (octets, count) => {
        if (count === 8 || count === 15) found.agent?.agent.reboot();
        return [{ octets }];
      },
      { communities: [], users: [user] },
    );
    expect(await survey({ credentials: [credential], retries: 1 })).toMatchObject(whole);
    expect(factsAsOf(store.db, 'port', 1)).toHaveLength(device?.ports.length ?? 0);
  });
  test('an answer whose signature was changed on its way is not there', async () => {
    await disturbed(
      (octets, count) => {
        if (count < 3) return [{ octets }];
        const forged = Buffer.from(octets);
        forged[forged.length - 1] = (forged.at(-1) ?? 0) ^ 1;
        // twice nothing but the forged one comes: no request is without a good answer at its third try
        return [{ octets: forged }, ...(count === 3 || count === 6 ? [] : [{ octets, afterMs: 20 }])];
      },
      { communities: [], users: [user] },
    );
    expect(await survey({ credentials: [credential], retries: 2 })).toMatchObject(whole);
  });
});

describe('tables out of measure', () => {
  test('200,000 rows are read, kept and concluded from', async () => {
    await disturbed(plainly, {}, new ForwardingTable(objects, 200_000));
    const { failures } = await survey({ timeoutMs: 2000 });
    expect(failures).toEqual([]);
    expect(store.raw.prepare('select count(*) as rows from attachment_fact').get()).toEqual({ rows: 200_000 });
  });
});

/** The sample's objects with a forwarding table of any length in place of its own, made as it is asked for. */
class ForwardingTable extends ObjectTree {
  readonly #root = [1, 3, 6, 1, 2, 1, 17, 7, 1, 2, 2, 1];
  constructor(
    readonly own: ObjectTree | undefined,
    readonly rows: number,
  ) {
    super([]);
  }
  #row(column: number, at: number) {
    const oid = [...this.#root, column, 1010, 2, 0x43, 0x41, (at >> 16) & 255, (at >> 8) & 255, at & 255];
    return { oid, value: ber.integer(column === 2 ? 1 + (at % 20) : 3) };
  }
  override exact(oid: number[]) {
    return this.own?.exact(oid) ?? null;
  }
  override next(oid: number[]) {
    if (!this.#root.every((part, at) => oid[at] === part)) return this.own?.next(oid) ?? null;
    const column = oid[12] ?? 2;
    const at = oid.length > 16 ? ((oid[17] ?? 0) << 16) + ((oid[18] ?? 0) << 8) + (oid[19] ?? 0) + 1 : 0;
    if (at < this.rows) return this.#row(column, at);
    return column < 3 ? this.#row(column + 1, 0) : (this.own?.next([...this.#root, 99]) ?? null);
  }
}

test('500 agents that die at once: the survey ends, sealed, and says it of each', async () => {
  const write = new ObjectWriter();
  write.text('1.3.6.1.2.1.1.1.0', 'Kestrane K-Ring 12');
  for (let at = 1; at <= 40; at++) write.text(`1.3.6.1.2.1.2.2.1.2.${at}`, `port ${at}`);
  const tree = new ObjectTree(write.instances);
  const fleet = Array.from(
    { length: 500 },
    (_, at) =>
      new Agent(
        {
          address: `127.202.${2 + (at >> 8)}.${at & 255}`,
          port,
          engineId: Buffer.from([0x80, 0, 0, 0, 5, at >> 8, at & 255]),
          communities: ['faults'],
          users: [],
        },
        tree,
      ),
  );
  await Promise.all(fleet.map((agent) => agent.listen()));
  agents.push(...fleet);
  const running = survey({ ranges: ['127.202.2.0-127.202.3.243'], retries: 1 });
  const dead = setInterval(() => {
    if (
      store.db
        .select()
        .from(visit)
        .all()
        .filter(({ state }) => state === 'done').length < 40
    )
      return;
    clearInterval(dead);
    for (const agent of fleet) agent.close();
  }, 5);
  const summary = await running;
  clearInterval(dead);
  expect(summary.addresses.asked).toBe(500);
  expect(store.db.select().from(surveyTable).get()?.state).toBe('sealed');
  const visits = store.db.select().from(visit).all();
  // an answer that was on its way when its agent died may come too late to count
  const told = visits.map(({ outcome, reason }) => (/too slow/.test(String(reason)) ? 'silent' : outcome));
  expect(told.filter((word) => !['answered', 'partial', 'silent'].includes(String(word)))).toEqual([]);
  expect(told.includes('silent') || told.includes('partial')).toBe(true);
});

test('a database that may not grow fails the survey, seals nothing, and what was sealed stays whole', async () => {
  await disturbed(plainly);
  await survey();
  const pages = Number(store.raw.pragma('page_count', { simple: true }));
  store.raw.pragma(`max_page_count = ${pages + 1}`);
  agents.splice(0).forEach((agent) => agent.close());
  await disturbed(plainly, {}, new ForwardingTable(objects, 20_000));
  // the driver keeps the error class of whoever loaded it first, so that the class tells nothing here
  await expect(survey({ timeoutMs: 2000 })).rejects.toMatchObject({ code: 'SQLITE_FULL' });
  expect(latestSealed(store.db)).toBe(1);
  expect(factsAsOf(store.db, 'port', 1)).toHaveLength(device?.ports.length ?? 0);
  store.raw.pragma('max_page_count = 1000000');
  expect(await survey({ timeoutMs: 2000 })).toMatchObject({ devices: { found: 1, new: 0 }, failures: [] });
  expect(store.raw.pragma('integrity_check', { simple: true })).toBe('ok');
});

describe('an agent that lies', () => {
  test('by going back in a table is named as misbehaving, and the survey ends', async () => {
    if (!objects) throw new Error('no answers');
    class Looping extends ObjectTree {
      override next(oid: number[]) {
        const loops = [1, 3, 6, 1, 2, 1, 2, 2, 1];
        const honest = objects?.next(oid) ?? null;
        return honest && loops.every((part, at) => honest.oid[at] === part)
          ? { oid: [...loops, 2, 1], value: ber.octets('again') }
          : honest;
      }
      override exact(oid: number[]) {
        return objects?.exact(oid) ?? null;
      }
    }
    await listen(new Looping([]));
    const { failures } = await survey();
    expect(failures).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ part: 'ports', reason: expect.stringContaining('went back') }),
      ]),
    );
  });

  test('by answering with bytes that are no message is told as such, and the others are read', async () => {
    const socket = createSocket('udp4');
    socket.on('message', (_, { address: to, port: at }) => {
      for (const bytes of [
        Buffer.from('garbage'),
        Buffer.alloc(0),
        Buffer.from([0x30, 0x84, 0xff, 0xff, 0xff, 0xff]),
        Buffer.alloc(300, 0x30),
      ])
        socket.send(bytes, at, to);
    });
    await new Promise<void>((resolve) => socket.bind(port, address, resolve));
    const honest = new Agent(
      {
        address: '127.201.4.98',
        port,
        engineId: Buffer.from('8000e6dd0309', 'hex'),
        communities: ['faults'],
        users: [],
      },
      objects ?? new ObjectTree([]),
    );
    agents.push(honest);
    await honest.listen();
    const summary = await survey({ ranges: [address, '127.201.4.98'] });
    expect(summary).toMatchObject({ addresses: { asked: 2, answered: 1 }, devices: { found: 1 } });
    const visits = store.db.select().from(visit).all();
    expect(visits.find((one) => one.address === address)).toMatchObject({
      outcome: 'failed',
      reason: expect.stringContaining('octets that are no SNMP message'),
    });
    socket.close();
  });
});

test('a stand-in keeps still at any bytes that are no request it lets in', () => {
  if (!objects || !device) throw new Error('no answers');
  const agent = new Agent({ address, port, engineId: engineIdOf(device), communities: ['faults'], users: [] }, objects);
  fc.assert(fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => agent.answer(Buffer.from(bytes)) === null));
  const request = (oid: number[]) =>
    ber.wrap(
      ber.tag.sequence,
      ber.integer(1),
      ber.octets('faults'),
      ber.wrap(
        ber.tag.getBulk,
        ber.integer(7),
        ber.integer(0),
        ber.integer(200),
        ber.wrap(ber.tag.sequence, ber.wrap(ber.tag.sequence, ber.oid(oid), ber.wrap(ber.tag.nothing))),
      ),
    );
  const answer = agent.answer(request([1, 3, 6, 1, 2, 1]));
  expect(answer?.length).toBeGreaterThan(1000);
  expect(answer?.length).toBeLessThan(1472);
});

test('object identifiers and integers survive the stand-in’s own coding', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 2 ** 31 - 1 }), { minLength: 1, maxLength: 20 }), (tail) => {
      const oid = [1, 3, ...tail];
      expect(ber.readOid(ber.element(ber.oid(oid)).body)).toEqual(oid);
    }),
  );
  fc.assert(
    fc.property(
      fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }),
      (value) => ber.readInteger(ber.element(ber.integer(value)).body) === value,
    ),
  );
});

import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { rmSync } from 'node:fs';
import { createSocket } from 'node:dgram';
import fc from 'fast-check';
import { runSurvey, type SurveySummary } from '../src/collect/survey/runSurvey';
import { readScope, scopeDefaults } from '../src/core/estate/scope';
import { answersOf, engineIdOf } from '../src/sim/ostermere/answers';
import { ostermere } from '../src/sim/ostermere/estate';
import * as ber from '../src/sim/snmp/ber';
import { Agent } from '../src/sim/snmp/agent';
import { ObjectTree } from '../src/sim/snmp/objects';
import { factsAsOf } from '../src/store/facts';
import { openStore, type Store } from '../src/store/database';
import { readSignatures } from '../src/store/programFiles';
import { visit } from '../src/store/schema';
import { freeUdpPort, temporaryFolder } from './support/program';

/** Devices that die half-way, lie or babble, at the socket: what was known stays, and the outcome says what happened. */
const address = '127.201.4.2';
let port: number;
let folder: string;
let store: Store;
const agents: Agent[] = [];

const estate = ostermere(1);
const device = estate.devices.find(({ name }) => name === 'rpw-plat');
const objects = answersOf(estate).get('rpw-plat');

async function listen(tree: ObjectTree, more: { silentAfter?: number } = {}): Promise<Agent> {
  if (!device) throw new Error('the sample has no rpw-plat');
  const agent = new Agent({ address, port, engineId: engineIdOf(device), communities: ['faults'], users: [], ...more }, tree);
  agents.push(agent);
  await agent.listen();
  return agent;
}

function survey(): Promise<SurveySummary> {
  const read = readScope({ ...scopeDefaults, name: 'faults', ranges: [address], port, timeoutMs: 150, retries: 0 });
  if ('mistakes' in read) throw new Error('wrong scope');
  return runSurvey(store, { scope: read.scope, scopeName: 'faults', credentials: [{ name: 'c', kind: 'snmp2c', community: 'faults' }], signatures: readSignatures(folder), siteRules: [] });
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
    const known = { modules: factsAsOf(store.db, 'module', 1).length, ports: factsAsOf(store.db, 'port', 1).length, device: factsAsOf(store.db, 'device', 1)[0]?.content };
    whole.close();
    for (const silentAfter of [3, 9, 15]) {
      const dying = await listen(objects, { silentAfter });
      const summary = await survey();
      dying.close();
      expect(summary.devices).toMatchObject({ found: 1, new: 0, replaced: 0 });
      expect(summary.failures.length).toBeGreaterThan(0);
      expect(summary.failures.every(({ part, reason, remedy }) => part !== '' && /stopped answering/.test(reason) && remedy !== '')).toBe(true);
      const visits = store.db.select().from(visit).all();
      expect(visits.at(-1)).toMatchObject({ outcome: 'partial', reason: expect.stringContaining('without') });
      expect(factsAsOf(store.db, 'module', summary.survey)).toHaveLength(known.modules);
      expect(factsAsOf(store.db, 'port', summary.survey)).toHaveLength(known.ports);
      expect(factsAsOf(store.db, 'device', summary.survey)[0]?.content).toEqual(known.device);
    }
  });
});

describe('an agent that lies', () => {
  test('by going back in a table is named as misbehaving, and the survey ends', async () => {
    if (!objects) throw new Error('no answers');
    class Looping extends ObjectTree {
      override next(oid: number[]) {
        const loops = [1, 3, 6, 1, 2, 1, 2, 2, 1];
        const honest = objects?.next(oid) ?? null;
        return honest && loops.every((part, at) => honest.oid[at] === part) ? { oid: [...loops, 2, 1], value: ber.octets('again') } : honest;
      }
      override exact(oid: number[]) {
        return objects?.exact(oid) ?? null;
      }
    }
    await listen(new Looping([]));
    const { failures } = await survey();
    expect(failures).toEqual(expect.arrayContaining([expect.objectContaining({ part: 'ports', reason: expect.stringContaining('went back') })]));
  });

  test('by answering with bytes that are no message is silent, not fatal', async () => {
    const socket = createSocket('udp4');
    socket.on('message', (_, { address: to, port: at }) => {
      for (const bytes of [Buffer.from('garbage'), Buffer.alloc(0), Buffer.from([0x30, 0x84, 0xff, 0xff, 0xff, 0xff]), Buffer.alloc(300, 0x30)]) socket.send(bytes, at, to);
    });
    await new Promise<void>((resolve) => socket.bind(port, address, resolve));
    expect(await survey()).toMatchObject({ addresses: { asked: 1, answered: 0 } });
    socket.close();
  });
});

test('a stand-in keeps still at any bytes that are no request it lets in', () => {
  if (!objects || !device) throw new Error('no answers');
  const agent = new Agent({ address, port, engineId: engineIdOf(device), communities: ['faults'], users: [] }, objects);
  fc.assert(fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => agent.answer(Buffer.from(bytes)) === null));
  const request = (oid: number[]) => ber.wrap(ber.tag.sequence, ber.integer(1), ber.octets('faults'), ber.wrap(ber.tag.getBulk, ber.integer(7), ber.integer(0), ber.integer(200), ber.wrap(ber.tag.sequence, ber.wrap(ber.tag.sequence, ber.oid(oid), ber.wrap(ber.tag.nothing)))));
  const answer = agent.answer(request([1, 3, 6, 1, 2, 1]));
  expect(answer?.length).toBeGreaterThan(1000);
  expect(answer?.length).toBeLessThan(1472);
});

test('object identifiers and integers survive the stand-in’s own coding', () => {
  fc.assert(fc.property(fc.array(fc.integer({ min: 0, max: 2 ** 31 - 1 }), { minLength: 1, maxLength: 20 }), (tail) => {
    const oid = [1, 3, ...tail];
    expect(ber.readOid(ber.element(ber.oid(oid)).body)).toEqual(oid);
  }));
  fc.assert(fc.property(fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }), (value) => ber.readInteger(ber.element(ber.integer(value)).body) === value));
});

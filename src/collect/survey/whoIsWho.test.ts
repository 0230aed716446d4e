import { afterAll, afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { freeUdpPort } from '../../../e2e/support/program';
import { scopeOf } from '../../../e2e/support/sampleStore';
import type { DeviceFacts } from '../../core/estate/facts';
import { Agent } from '../../sim/snmp/agent';
import * as ber from '../../sim/snmp/ber';
import { ObjectTree, ObjectWriter } from '../../sim/snmp/objects';
import { openStore, type Store } from '../../store/base/database';
import { deviceStates } from '../../store/base/deviceStates';
import { factsAsOf } from '../../store/base/facts';
import { visit } from '../../store/base/schema';
import { readSignatures } from '../../store/programFiles';
import { runSurvey } from './runSurvey';

/** Plain agents that are hard to tell apart, over sockets: who is one device, and who took whose place. */
const base = '127.213.7';
const folder = mkdtempSync(path.join(tmpdir(), 'bolide-who-'));
let port = 0;
let store: Store;
let agents: Agent[] = [];
beforeEach(async () => {
  port = await freeUdpPort();
  store = openStore(mkdtempSync(path.join(folder, 'store-')));
});
afterEach(() => {
  silence();
  store.close();
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const silence = () => {
  for (const agent of agents) agent.close();
  agents = [];
};

/** An agent at an address that ends in `at`; `machine` numbers its engine and the MAC of its socket. */
async function host(at: number, name: string, machine: number, addresses: string[]): Promise<void> {
  const tell = new ObjectWriter();
  const engineId = Buffer.from(`8000e7af0500a${machine}`.padEnd(18, '0'), 'hex');
  tell.add('1.3.6.1.2.1.1.1.0', ber.octets('a plain host'));
  tell.add('1.3.6.1.2.1.1.2.0', ber.oid([1, 3, 6, 1, 4, 1, 59199, 7]));
  tell.add('1.3.6.1.2.1.1.3.0', ber.integer(100_000, 0x43));
  tell.add('1.3.6.1.2.1.1.5.0', ber.octets(name));
  tell.add('1.3.6.1.6.3.10.2.1.1.0', ber.octets(engineId));
  tell.add('1.3.6.1.2.1.2.2.1.2.1', ber.octets('eth0'));
  tell.add('1.3.6.1.2.1.2.2.1.3.1', ber.integer(6));
  tell.add('1.3.6.1.2.1.2.2.1.6.1', ber.octets(Buffer.from([2, 0x48, 0, 0, 0, machine])));
  for (const address of [`10.77.8.${at}`, ...addresses]) {
    tell.add(`1.3.6.1.2.1.4.20.1.2.${address}`, ber.integer(1));
    tell.add(`1.3.6.1.2.1.4.20.1.3.${address}`, ber.integer(24));
  }
  const agent = new Agent(
    { address: `${base}.${at}`, port, engineId, communities: ['tests'], users: [] },
    new ObjectTree(tell.instances),
  );
  await agent.listen();
  agents.push(agent);
}

async function survey(): Promise<number> {
  const { survey: id } = await runSurvey(store, {
    scope: scopeOf({
      ranges: ['10.77.8.1-5'],
      translations: [`10.77.8.0/24 via ${base}.0/24 port ${port}`],
      timeoutMs: 200,
      retries: 0,
    }),
    scopeName: 'tests',
    credentials: [{ name: 'tests', kind: 'snmp2c', community: 'tests' }],
    signatures: readSignatures(store.folder),
  });
  return id;
}

const devicesOf = (id: number) => {
  const stateOf = deviceStates(store.db, id);
  return factsAsOf<DeviceFacts>(store.db, 'device', id).map((row) => {
    const { state, outcome } = stateOf(row);
    return { id: row.deviceId, name: row.content.name, address: row.content.address, state, reason: outcome?.reason };
  });
};

describe('three hosts that nobody named, each with the address of its own containers', () => {
  test('are three devices, and the same three in the next survey', async () => {
    for (const at of [1, 2, 3]) await host(at, 'localhost.localdomain', at, ['172.17.0.1']);
    const first = devicesOf(await survey());
    expect(first.map(({ address }) => address).sort()).toEqual(['10.77.8.1', '10.77.8.2', '10.77.8.3']);
    expect(devicesOf(await survey())).toEqual(first);
  });
});

describe('an address that another device answers now', () => {
  test('leaves the one before silent there, with who is there instead; and is that other one’s from then on', async () => {
    await host(1, 'olr-host-1', 1, []);
    const [before] = devicesOf(await survey());
    silence();
    await host(1, 'olr-host-2', 2, []);
    const second = await survey();
    expect(devicesOf(second)).toMatchObject([
      {
        id: before?.id,
        state: 'silent',
        reason: 'olr-host-2, another device, answers at 10.77.8.1 now: it was moved or replaced',
      },
      { name: 'olr-host-2', state: 'answering' },
    ]);
    silence();
    const third = await survey();
    const [, other] = devicesOf(second);
    expect(
      store.db
        .select()
        .from(visit)
        .all()
        .find(({ surveyId, address }) => surveyId === third && address === '10.77.8.1')?.deviceId,
    ).toBe(other?.id);
    expect(devicesOf(third).map(({ state }) => state)).toEqual(['silent', 'silent']);
    // as of the survey before nothing of it was known
    expect(devicesOf(second - 1)).toMatchObject([{ state: 'answering' }]);
  });
  test('takes nothing from one that answers somewhere else', async () => {
    await host(1, 'olr-host-1', 1, []);
    await survey();
    silence();
    await host(1, 'olr-host-2', 2, []);
    await host(5, 'olr-host-1', 1, []);
    const found = devicesOf(await survey()).map(({ name, state }) => `${name} ${state}`);
    expect(found.sort()).toEqual(['olr-host-1 answering', 'olr-host-2 answering']);
  });
});

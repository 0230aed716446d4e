import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { DisturbedAgent, type Disturbance } from '../../../e2e/support/disturbedAgent';
import { freeUdpPort } from '../../../e2e/support/program';
import { plannedSets, type PortAct, type PortSettings } from '../../core/acting/portAct';
import type { UserCredential } from '../../core/estate/credential';
import { setError, ObjectTree, ObjectWriter } from '../../sim/snmp/objects';
import { UdpTransport } from '../snmp/udpTransport';
import { SourceError } from '../source';
import { actOnPort } from './actOnPort';
import { openForWriting, readPort, type ExpectedAgent, type OpenedAgent } from './portAgent';

/** Acting against the stand-in over a real socket: what is refused, what is lost on the way, what is somebody else. */
const address = '127.203.7.1';
const protection = {
  authProtocol: 'SHA-256',
  authPassword: 'lantern-quay-1',
  privProtocol: 'AES-128',
  privPassword: 'lantern-quay-2',
} as const;
const users = [
  { name: 'looks', ...protection },
  { name: 'hands', ...protection, writes: true },
];
const credentialOf = (user: string, password: string = protection.authPassword): UserCredential => ({
  name: `user ${user}`,
  kind: 'snmp3',
  user,
  auth: { protocol: 'SHA-256', password },
  priv: { protocol: 'AES-128', password: protection.privPassword },
  purpose: 'write',
});
const engineId = Buffer.from('8000e6dd0307', 'hex');
const expected = { name: 'lqy-plat', engineId: engineId.toString('hex') };

let port: number;
let transport: UdpTransport;
let agent: DisturbedAgent;
/** the switch itself: two ports, the second gives power */
let truth: { admin: number; alias: string; power: number; stubborn: boolean };
let sets: string[];

function tree(): ObjectTree {
  const write = new ObjectWriter();
  write.text('1.3.6.1.2.1.1.1.0', 'K-Access 24');
  write.text('1.3.6.1.2.1.1.5.0', 'lqy-plat');
  write.text('1.3.6.1.6.3.10.2.1.1.0', engineId);
  const doing = (words: string, act: () => void) => {
    sets.push(words);
    if (!truth.stubborn) act();
    agent.agent.objects = tree();
  };
  for (const at of [1, 2]) {
    write.text(`1.3.6.1.2.1.2.2.1.2.${at}`, `lqy-plat port ${at}`);
    write.integer(`1.3.6.1.2.1.2.2.1.3.${at}`, 6);
    write.settableInteger(`1.3.6.1.2.1.2.2.1.7.${at}`, at === 2 ? truth.admin : 1, [1, 2], (value) =>
      doing(`admin ${value}`, () => (truth.admin = value)),
    );
    write.integer(`1.3.6.1.2.1.2.2.1.8.${at}`, at === 2 ? truth.admin : 1);
    write.text(`1.3.6.1.2.1.31.1.1.1.1.${at}`, String(at));
    write.add(
      `1.3.6.1.2.1.31.1.1.1.18.${at}`,
      Buffer.concat([Buffer.from([4, truth.alias.length]), Buffer.from(truth.alias)]),
      (value) =>
        value.body.toString() === 'unwanted'
          ? setError.inconsistentValue
          : () => doing(`alias ${value.body.toString()}`, () => (truth.alias = value.body.toString())),
    );
  }
  write.settableInteger('1.3.6.1.2.1.105.1.1.1.3.1.2', truth.power, [1, 2], (value) =>
    doing(`power ${value}`, () => (truth.power = value)),
  );
  write.integer('1.3.6.1.2.1.105.1.1.1.6.1.2', truth.power === 1 ? 3 : 1);
  return new ObjectTree(write.instances);
}

async function standIn(disturb: Disturbance = (octets) => [{ octets }]): Promise<void> {
  agent = new DisturbedAgent({ address, port, engineId, communities: [], users }, tree(), disturb);
  await agent.listen('127.203.7.2');
}
const open = (user = 'hands', who: ExpectedAgent = expected) =>
  openForWriting(transport, { address, port, timeoutMs: 120, retries: 1 }, [credentialOf(user)], who);
async function opened(user = 'hands'): Promise<OpenedAgent> {
  const found = await open(user);
  if ('reason' in found) throw new Error(found.reason);
  return found;
}
const before = (): PortSettings => ({
  ifIndex: 2,
  admin: 'up',
  oper: 'up',
  alias: 'kiosk',
  power: { group: 1, port: 2, enabled: true, state: 'delivering' },
});
const act = async (
  wanted: PortAct,
  more: { seen?: PortSettings; user?: string; wait?: (seconds: number) => Promise<void>; sent?: string[] } = {},
) =>
  actOnPort(await opened(more.user), {
    port: '2',
    act: wanted,
    seen: more.seen ?? before(),
    sending: ({ object }) => more.sent?.push(object),
    wait: more.wait ?? (() => Promise.resolve()),
  });

beforeEach(async () => {
  port = await freeUdpPort();
  transport = new UdpTransport();
  truth = { admin: 1, alias: 'kiosk', power: 1, stubborn: false };
  sets = [];
});
afterEach(() => {
  transport.close();
  agent?.close();
});

test('a port is read by its name, with what of it can be set', async () => {
  await standIn();
  const { agent: live } = await opened();
  expect(await readPort(live, '2')).toEqual(before());
  expect(await readPort(live, '1')).toEqual({ ...before(), ifIndex: 1, power: null });
  expect(await readPort(live, '3')).toBeNull();
});

test('an agent that breaks off at its parts lets its ports be switched, and not their power', async () => {
  await standIn();
  const { agent: live } = await opened();
  const asked = live.columns.bind(live);
  jest.spyOn(live, 'columns').mockImplementation((entry, columns) => {
    if (entry.startsWith('1.3.6.1.2.1.47.')) throw new SourceError('no answer', 'it fell silent');
    return asked(entry, columns);
  });
  const settings = await readPort(live, '2');
  expect(settings?.power).toEqual({ ...before().power, doubt: 'its parts (ENTITY-MIB) could not be read' });
  const planned = (act: PortAct) => settings && plannedSets(act, settings);
  expect(planned({ kind: 'powerOff' })).toHaveProperty('reason');
  expect(planned({ kind: 'shut' })).toHaveProperty('sets');
});

describe('an act', () => {
  test.each([
    [{ kind: 'shut' }, ['admin 2'], { admin: 'down' }],
    [{ kind: 'alias', alias: 'ticket machine' }, ['alias ticket machine'], { alias: 'ticket machine' }],
    [{ kind: 'powerOff' }, ['power 2'], { power: { group: 1, port: 2, enabled: false, state: 'disabled' } }],
  ] as [PortAct, string[], Partial<PortSettings>][])(
    '%j is sent once, read back, and done',
    async (wanted, expectedSets, after) => {
      await standIn();
      expect(await act(wanted)).toMatchObject({ state: 'done', after, reason: '' });
      expect(sets).toEqual(expectedSets);
    },
  );
  test('a power-cycle takes the power away, waits, and gives it back', async () => {
    await standIn();
    const happened: string[] = [];
    const outcome = await act(
      { kind: 'powerCycle', offSeconds: 7 },
      { wait: (seconds) => Promise.resolve(void happened.push(`${sets.join()}, then ${seconds} s`)) },
    );
    expect([outcome.state, sets, happened]).toEqual(['done', ['power 2', 'power 1'], ['power 2, then 7 s']]);
  });
  test('on a port that was changed since it was looked at sends nothing', async () => {
    truth.alias = 'somebody was here';
    await standIn();
    expect(await act({ kind: 'shut' })).toMatchObject({
      state: 'changed',
      after: { alias: 'somebody was here' },
      reason: expect.stringMatching(/changed since you looked: nothing was sent/) as unknown,
    });
    expect(sets).toEqual([]);
  });
  test('by a user who may only read is refused, and nothing is changed', async () => {
    await standIn();
    expect(await act({ kind: 'shut' }, { user: 'looks' })).toMatchObject({
      state: 'refused',
      reason: 'the user may read, but not write: nothing was changed',
      after: { admin: 'up' },
    });
    expect(sets).toEqual([]);
  });
  test('that the agent finds wrong is refused in its words', async () => {
    await standIn();
    expect(await act({ kind: 'alias', alias: 'unwanted' })).toMatchObject({
      state: 'refused',
      reason: expect.stringMatching(/inconsistentValue/) as unknown,
    });
  });
  test('that the agent agrees to and does not do is told by reading back', async () => {
    truth.stubborn = true;
    await standIn();
    expect(await act({ kind: 'shut' })).toMatchObject({
      state: 'different',
      reason: 'the agent agreed, but read back, its ifAdminStatus is still up',
    });
  });
  test('whose answer is lost is told by the port itself', async () => {
    let lost = 0;
    await standIn((octets) => (sets.length > 0 && lost++ < 2 ? [] : [{ octets }]));
    const sent: string[] = [];
    expect(await act({ kind: 'shut' }, { sent })).toMatchObject({ state: 'done', after: { admin: 'down' } });
    expect(sent).toEqual(['ifAdminStatus.2']);
  });
  test('after which the device is silent is not known to be done, and is not called done', async () => {
    await standIn((octets) => (sets.length > 0 ? [] : [{ octets }]));
    expect(await act({ kind: 'shut' })).toMatchObject({
      state: 'unsure',
      after: null,
      reason: expect.stringMatching(/not known/) as unknown,
    });
  });
});

describe('the agent', () => {
  test('that is not the one that was surveyed is left alone', async () => {
    await standIn();
    expect(await open('hands', { name: 'lqy-plat', engineId: '8000e6dd0399' })).toEqual({
      reason: 'another device answers there: it calls itself lqy-plat, with another engine',
      remedy: expect.stringMatching(/Survey it first/) as unknown,
    });
    expect(await open('hands', { name: 'rpw-plat', engineId: null })).toMatchObject({
      reason: 'another device answers there: it calls itself lqy-plat',
    });
  });
  test('that does not know the user, or is silent, says so with a remedy', async () => {
    await standIn();
    expect(await open('stranger')).toMatchObject({
      reason: 'speaks SNMPv3, but does not know the user of “user stranger”',
    });
    agent.close();
    transport.close();
    transport = new UdpTransport();
    expect(await open()).toMatchObject({ reason: 'no answer to any credential' });
  });
});

import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { DisturbedAgent } from '../../../e2e/support/disturbedAgent';
import { freeUdpPort } from '../../../e2e/support/program';
import { countIn, namesIn } from '../../../e2e/support/snmpMessages';
import { ObjectTree, ObjectWriter } from '../../sim/snmp/objects';
import { LiveAgent } from '../snmp/liveAgent';
import { UdpTransport } from '../snmp/udpTransport';
import { readDevice, readSystem } from './readDevice';

/** The first question to agents that drop what they do not like, over sockets. */
const address = '127.206.4.1';
let port: number;
let transport: UdpTransport;
let agent: DisturbedAgent | undefined;
beforeEach(async () => {
  port = await freeUdpPort();
  transport = new UdpTransport();
});
afterEach(() => {
  transport.close();
  agent?.close();
});

async function agentThatDrops(drops: (question: Buffer) => boolean): Promise<LiveAgent> {
  const write = new ObjectWriter();
  write.text('1.3.6.1.2.1.1.1.0', 'a switch for tests');
  write.objectId('1.3.6.1.2.1.1.2.0', '1.3.6.1.4.1.59199.7');
  write.text('1.3.6.1.2.1.1.4.0', 'network control');
  write.text('1.3.6.1.2.1.1.5.0', 'lqy-ring');
  agent = new DisturbedAgent(
    { address, port, engineId: Buffer.from('8000e6dd0309', 'hex'), communities: ['odd'], users: [] },
    new ObjectTree(write.instances),
    (octets, _, question) => (drops(question) ? [] : [{ octets }]),
  );
  await agent.listen('127.206.4.2');
  return new LiveAgent(
    transport,
    { address, port, timeoutMs: 80, retries: 1 },
    { name: 'odd', kind: 'snmp2c', community: 'odd' },
  );
}
const sysContact = Buffer.from('2b06010201010400', 'hex');

test('an agent that keeps the standard is asked once', async () => {
  const source = await agentThatDrops(() => false);
  expect(await readSystem(source)).toMatchObject({ name: 'lqy-ring', contact: 'network control' });
  expect(agent?.requests).toBe(1);
});

test('one that drops a question for several objects is heard all the same, object by object', async () => {
  const source = await agentThatDrops((question) => countIn(question) > 1);
  const system = await readSystem(source);
  expect(system).toMatchObject({ name: 'lqy-ring', objectId: '1.3.6.1.4.1.59199.7', contact: 'network control' });
  expect(system).not.toHaveProperty('unheard');
});

test('one that drops what names one of the objects tells the others; which it does not is told', async () => {
  const source = await agentThatDrops((question) => namesIn(question).some((name) => name.equals(sysContact)));
  const system = await readSystem(source);
  expect(system).toMatchObject({ name: 'lqy-ring', contact: '', unheard: ['sysContact'] });
  if (!system) return;
  const { parts } = await readDevice(source, system, {
    address,
    credential: 'odd',
    signatures: [{ id: 'generic', order: 1, match: {}, vendor: '', role: 'unknown' }],
    inFlight: 2,
    now: () => performance.now(),
    cancelled: () => false,
  });
  expect(parts.system).toMatchObject({
    state: 'failed',
    reason: 'asked for sysContact, the device does not answer',
  });
});

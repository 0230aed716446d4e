import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { createSocket, type Socket } from 'node:dgram';
import { freeUdpPort } from '../../../e2e/support/program';
import type { Credential } from '../../core/estate/credential';
import { readScope, scopeDefaults, type Scope } from '../../core/estate/scope';
import { Agent } from '../../sim/snmp/agent';
import { ObjectTree, ObjectWriter } from '../../sim/snmp/objects';
import { UdpTransport } from '../snmp/udpTransport';
import { outcomeOf } from './outcome';
import { SnmpProbe } from './snmpProbe';

/** Who lives at an address that lets none of the credentials in, asked over sockets. */
const community: Credential = { name: 'desk', kind: 'snmp2c', community: 'not-the-one' };
const user: Credential = {
  name: 'v3',
  kind: 'snmp3',
  user: 'olr',
  auth: { protocol: 'SHA-256', password: 'lantern-quay-1' },
  priv: { protocol: 'AES-128', password: 'lantern-quay-2' },
};
let port: number;
let transport: UdpTransport;
const opened: { close(): void }[] = [];

beforeEach(async () => {
  port = await freeUdpPort();
  transport = new UdpTransport();
});
afterEach(() => {
  transport.close();
  for (const one of opened.splice(0)) one.close();
});

const scope = (): Scope => {
  const read = readScope({ ...scopeDefaults, ranges: ['127.205.0.0/24'], port, timeoutMs: 200, retries: 0 });
  if ('mistakes' in read) throw new Error(JSON.stringify(read.mistakes));
  return read.scope;
};
const outcomeAt = async (address: string, credentials: Credential[], refusals = true, remembered?: string) => {
  const probed = await new SnmpProbe(transport, scope(), credentials, () => false, refusals).probe(address, remembered);
  return 'source' in probed ? 'heard' : outcomeOf(probed);
};
async function listening(address: string): Promise<Socket> {
  const socket = createSocket('udp4');
  opened.push(socket);
  await new Promise<void>((resolve) => socket.bind(port, address, () => resolve()));
  return socket;
}
async function agentAt(address: string): Promise<void> {
  const write = new ObjectWriter();
  write.text('1.3.6.1.2.1.1.1.0', 'ring switch');
  write.text('1.3.6.1.2.1.1.5.0', 'lqy-ring');
  const agent = new Agent(
    { address, port, engineId: Buffer.from('8000e6dd0301', 'hex'), communities: ['another'], users: [] },
    new ObjectTree(write.instances),
  );
  opened.push(agent);
  await agent.listen();
}

test('a machine that refuses the datagram is alive, though nothing listens', async () => {
  expect(await outcomeAt('127.205.0.9', [community])).toMatchObject({
    outcome: 'alive',
    reason: expect.stringMatching(/nothing listens for SNMP/),
  });
  expect(await outcomeAt('127.205.0.9', [community, user])).toMatchObject({ outcome: 'alive' });
  // one that answered before, and has its agent off now
  expect(await outcomeAt('127.205.0.9', [community], true, 'desk')).toMatchObject({ outcome: 'alive' });
});

test('of a loopback address a refusal tells nothing: this machine refuses for all of them', async () => {
  expect(await outcomeAt('127.205.0.9', [community], false)).toMatchObject({ outcome: 'silent' });
});

test('who takes the datagram and keeps still is silent', async () => {
  await listening('127.205.0.10');
  expect(await outcomeAt('127.205.0.10', [community])).toMatchObject({ outcome: 'silent' });
});

test('an agent that lets no community in still says that it speaks SNMPv3', async () => {
  await agentAt('127.205.0.11');
  expect(await outcomeAt('127.205.0.11', [community])).toMatchObject({
    outcome: 'refused',
    reason: expect.stringMatching(/speaks SNMPv3, but answers to none/),
  });
  // with a user at hand the user is what it refuses
  expect(await outcomeAt('127.205.0.11', [community, user])).toMatchObject({
    outcome: 'refused',
    reason: expect.stringMatching(/does not know the user/),
  });
});

test('without a credential for SNMP nobody is asked by it', async () => {
  expect(await outcomeAt('127.205.0.9', [])).toMatchObject({ reason: 'no credential to try' });
  expect(transport.packetsSent).toBe(0);
});

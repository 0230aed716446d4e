import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { createSocket, type Socket } from 'node:dgram';
import { createServer, type Server } from 'node:net';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import type { Credential } from '../../core/estate/credential';
import { readScope, scopeDefaults, type Scope } from '../../core/estate/scope';
import type { CollectedVisit } from '../../core/estate/visit';
import { openForWriting } from '../acting/portAgent';
import { UdpTransport } from '../snmp/udpTransport';
import { AddressReader } from './addressReader';
import { testCredential } from './testCredential';

/** Somebody who takes whatever is sent, over UDP and over TCP, as the machine of whoever wants the secrets would. */
let udp: Socket;
let tcp: Server;
let heard: string[];
const places = () => ({ snmp: udp.address().port, https: (tcp.address() as AddressInfo).port });

beforeEach(async () => {
  heard = [];
  udp = createSocket('udp4', (message) => heard.push(`udp ${message.toString('latin1')}`));
  tcp = createServer((socket) => {
    heard.push('tcp');
    socket.destroy();
  });
  udp.bind(0, '127.0.0.9');
  tcp.listen(0, '127.0.0.9');
  await Promise.all([once(udp, 'listening'), once(tcp, 'listening')]);
});
afterEach(() => {
  udp.close();
  tcp.close();
});

const community = { name: 'core', kind: 'snmp2c', community: 'not-for-strangers' } as const;
const user = {
  name: 'hands',
  kind: 'snmp3',
  user: 'olr-hands',
  auth: { protocol: 'SHA-256', password: 'signal-lantern-71' },
  priv: { protocol: 'AES-128', password: 'harbour-bell-19' },
} as const;
const login = { name: 'hardware', kind: 'redfish', user: 'olr', password: 'harbour-bell-19' } as const;
/** A scope that sends an address of ours to the stranger. */
function scopeToStranger(): Scope {
  const { snmp, https } = places();
  const translations = [`10.72.4.0/24 via 127.0.0.0/24 port ${snmp} https ${https}`];
  const read = readScope({
    ...scopeDefaults,
    name: 'north',
    ranges: ['10.72.4.9'],
    translations,
    timeoutMs: 150,
    retries: 0,
  });
  if ('mistakes' in read) throw new Error(JSON.stringify(read.mistakes));
  return read.scope;
}
const certificates = { check: () => null, seen: () => undefined } as never;
/** Approved for the address as it is written, and for the stranger's port: not for where it would go. */
const ours = () => ({ prefixes: ['10.72.0.0/16'], ports: [161, 443, ...Object.values(places())] });
const theirs = () => ({ prefixes: ['127.0.0.9'], ports: Object.values(places()) });

describe('a secret that was approved for our addresses', () => {
  test.each([community, user, login])('is sent to no stranger by a test of $name', async (credential) => {
    const tried = await testCredential(
      { ...credential, approved: ours() } as Credential,
      '10.72.4.9',
      scopeToStranger(),
      certificates,
    );
    expect(tried).toMatchObject({
      outcome: 'failed',
      reason: expect.stringMatching(/may not be sent to 127\.0\.0\.9 port \d+/),
    });
    expect(heard).toEqual([]);
  });

  test('nor by a survey, which says so and sends nothing at all', async () => {
    const visits: CollectedVisit[] = [];
    const reader = new AddressReader({
      scope: scopeToStranger(),
      credentials: [community, login].map((credential) => ({ ...credential, approved: ours() })) as Credential[],
      signatures: [],
      certificates,
      cancelled: () => false,
      hintOf: () => ({}) as never,
    });
    await reader.readAll(['10.72.4.9'], (visit) => void visits.push(visit));
    reader.close();
    expect(visits.map(({ outcome }) => outcome)).toMatchObject([
      {
        outcome: 'failed',
        reason: expect.stringMatching(/^not asked: “core” and “hardware” may not be sent to 127\.0\.0\.9/),
      },
    ]);
    expect(heard).toEqual([]);
  });

  test('nor by who acts on a port', async () => {
    const transport = new UdpTransport();
    const place = { address: '127.0.0.9', port: places().snmp, timeoutMs: 150, retries: 0 };
    const opened = await openForWriting(transport, place, [{ ...user, approved: ours() }], {
      name: 'rpw-plat',
      engineId: null,
    });
    transport.close();
    expect(opened).toMatchObject({ reason: expect.stringContaining('may not be sent to 127.0.0.9') });
    expect(heard).toEqual([]);
  });

  test('and is sent where it was approved', async () => {
    await testCredential({ ...community, approved: theirs() }, '10.72.4.9', scopeToStranger(), certificates);
    expect(heard.filter((message) => message.includes('not-for-strangers')).length).toBeGreaterThan(0);
    await testCredential({ ...login, approved: theirs() }, '10.72.4.9', scopeToStranger(), certificates);
    expect(heard).toContain('tcp');
  });
});

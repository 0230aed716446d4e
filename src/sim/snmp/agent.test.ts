import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { createSocket } from 'node:dgram';
import snmp, { type Session } from 'net-snmp';
import { freeUdpPort } from '../../../e2e/support/program';
import { Agent } from './agent';
import * as ber from './ber';
import { ObjectTree, ObjectWriter } from './objects';
import type { AgentUser } from './usm';

/** The stand-in asked by a client that shares no code with it, over a real socket. */
const address = '127.202.1.1';
const user: AgentUser = {
  name: 'olr',
  authProtocol: 'SHA-256',
  authPassword: 'lantern-quay-1',
  privProtocol: 'AES-128',
  privPassword: 'lantern-quay-2',
};
let port: number;
let agent: Agent;
const sessions: Session[] = [];

beforeAll(async () => {
  const write = new ObjectWriter();
  write.text('1.3.6.1.2.1.1.1.0', 'Kestrane K-Ring 12');
  write.integer('1.3.6.1.2.1.1.7.0', 2);
  for (let row = 1; row <= 400; row++)
    write.text(`1.3.6.1.2.1.2.2.1.2.${row}`, `port ${row} with a rather long description`);
  port = await freeUdpPort();
  agent = new Agent(
    { address, port, engineId: Buffer.from('8000e6dd03024b45000001', 'hex'), communities: ['reads'], users: [user] },
    new ObjectTree(write.instances),
  );
  await agent.listen();
});
afterAll(() => {
  for (const session of sessions) session.close();
  agent.close();
});

const version2 = (community: string) => {
  const session = snmp.createSession(address, community, { port, timeout: 300, retries: 0, version: snmp.Version2c });
  sessions.push(session);
  return session;
};
const version3 = (change: { name?: string; authKey?: string; privKey?: string; level?: number } = {}) => {
  const session = snmp.createV3Session(
    address,
    {
      name: user.name,
      level: snmp.SecurityLevel.authPriv,
      authProtocol: snmp.AuthProtocols.sha256,
      authKey: user.authPassword,
      privProtocol: snmp.PrivProtocols.aes,
      privKey: user.privPassword,
      ...change,
    },
    { port, timeout: 500, retries: 0, version: snmp.Version3 },
  );
  sessions.push(session);
  return session;
};
const get = (session: Session, ...oids: string[]) =>
  new Promise<string[]>((resolve, reject) => {
    session.get(oids, (error, varbinds) =>
      error
        ? reject(error)
        : resolve(
            varbinds.map(({ value, type }) => (Buffer.isBuffer(value) ? value.toString() : `${type} ${String(value)}`)),
          ),
    );
  });
const bulk = (session: Session, oid: string, repetitions: number) =>
  new Promise<string[]>((resolve, reject) => {
    session.getBulk([oid], 0, repetitions, (error, varbinds) =>
      error ? reject(error) : resolve((varbinds[0] ?? []).map((varbind) => varbind.oid)),
    );
  });

describe('version 2c', () => {
  test('GET answers what there is and says noSuchInstance for the rest', async () => {
    expect(await get(version2('reads'), '1.3.6.1.2.1.1.1.0', '1.3.6.1.2.1.1.7.0', '1.3.6.1.2.1.1.9.0')).toEqual([
      'Kestrane K-Ring 12',
      '2 2',
      '129 null',
    ]);
  });
  test('a wrong community is met with silence', async () => {
    await expect(get(version2('writes'), '1.3.6.1.2.1.1.1.0')).rejects.toThrow(/timed out/i);
  });
  test('GETBULK fills one datagram and no more, in order', async () => {
    const names = await bulk(version2('reads'), '1.3.6.1.2.1.2.2.1.2', 200);
    expect(names.length).toBeGreaterThan(10);
    expect(names.length).toBeLessThan(60);
    expect(names).toEqual(names.map((_, at) => `1.3.6.1.2.1.2.2.1.2.${at + 1}`));
  });
  test('behind the last instance GETBULK says endOfMibView', async () => {
    const session = version2('reads');
    const last = await new Promise<number>((resolve, reject) =>
      session.getBulk(['1.3.6.1.2.1.2.2.1.2.400'], 0, 3, (error, varbinds) =>
        error ? reject(error) : resolve(varbinds[0]?.[0]?.type ?? 0),
      ),
    );
    expect(last).toBe(130);
  });
});

describe('version 3', () => {
  test('discovers the engine, then reads encrypted', async () => {
    expect(await get(version3(), '1.3.6.1.2.1.1.1.0')).toEqual(['Kestrane K-Ring 12']);
  });
  test.each([
    ['an unknown user', { name: 'somebody' }, /Unknown User Name/i],
    ['a wrong authentication password', { authKey: 'something-else' }, /Digest/i],
    ['a wrong privacy password', { privKey: 'something-else' }, /Decrypt/i],
    ['a level below the user’s', { level: snmp.SecurityLevel.authNoPriv }, /Security Level/i],
  ])('%s gets the report of RFC 3414 for it', async (_, change, words) => {
    await expect(get(version3(change), '1.3.6.1.2.1.1.1.0')).rejects.toThrow(words);
  });
});

test('nothing encrypted shows on the wire', async () => {
  const seen: Buffer[] = [];
  const relay = createSocket('udp4');
  const relayPort = await freeUdpPort();
  let client: { address: string; port: number } | undefined;
  relay.on('message', (message, from) => {
    seen.push(message);
    if (from.port === port && client) relay.send(message, client.port, client.address);
    else {
      client = from;
      relay.send(message, port, address);
    }
  });
  await new Promise<void>((resolve) => relay.bind(relayPort, '127.0.0.1', resolve));
  const session = snmp.createV3Session(
    '127.0.0.1',
    {
      name: user.name,
      level: snmp.SecurityLevel.authPriv,
      authProtocol: snmp.AuthProtocols.sha256,
      authKey: user.authPassword,
      privProtocol: snmp.PrivProtocols.aes,
      privKey: user.privPassword,
    },
    { port: relayPort, timeout: 500, retries: 0, version: snmp.Version3 },
  );
  sessions.push(session);
  expect(await get(session, '1.3.6.1.2.1.1.1.0')).toEqual(['Kestrane K-Ring 12']);
  relay.close();
  expect(seen.length).toBeGreaterThanOrEqual(4);
  expect(Buffer.concat(seen).toString('latin1')).not.toContain('K-Ring');
});

test('an agent told to die answers so often and never again', () => {
  const dying = new Agent({ ...agent.setup, silentAfter: 2 }, agent.objects);
  const request = ber.wrap(
    ber.tag.sequence,
    ber.integer(1),
    ber.octets('reads'),
    ber.wrap(
      ber.tag.get,
      ber.integer(7),
      ber.integer(0),
      ber.integer(0),
      ber.wrap(
        ber.tag.sequence,
        ber.wrap(ber.tag.sequence, ber.oid([1, 3, 6, 1, 2, 1, 1, 1, 0]), ber.wrap(ber.tag.nothing)),
      ),
    ),
  );
  expect([1, 2, 3, 4].map(() => dying.answer(request) !== null)).toEqual([true, true, false, false]);
});

describe('SET', () => {
  const writer: AgentUser = { ...user, name: 'hands', writes: true };
  const integer = (oid: string, value: number) => ({ oid, type: snmp.ObjectType.Integer, value });
  const text = (oid: string, value: string) => ({ oid, type: snmp.ObjectType.OctetString, value });
  const [admin, alias, sysDescr] = ['1.3.6.1.2.1.2.2.1.7.3', '1.3.6.1.2.1.31.1.1.1.18.3', '1.3.6.1.2.1.1.1.0'];
  let settable: Agent;
  let done: string[];
  const set = (session: Session, ...varbinds: ReturnType<typeof integer | typeof text>[]) =>
    new Promise<string>((resolve, reject) =>
      session.set(varbinds, (error) =>
        error && !error.status ? reject(error) : resolve(error ? error.message : 'set'),
      ),
    );
  const as = (name: string) => {
    const session = snmp.createV3Session(
      address,
      {
        name,
        level: snmp.SecurityLevel.authPriv,
        authProtocol: snmp.AuthProtocols.sha256,
        authKey: user.authPassword,
        privProtocol: snmp.PrivProtocols.aes,
        privKey: user.privPassword,
      },
      { port: settable.setup.port, timeout: 500, retries: 0, version: snmp.Version3 },
    );
    sessions.push(session);
    return session;
  };

  beforeAll(async () => {
    const write = new ObjectWriter();
    write.text(sysDescr, 'Kestrane K-Ring 12');
    write.settableInteger(admin, 1, [1, 2], (value) => done.push(`admin ${value}`));
    write.settableText(alias, 'camera', 12, (value) => done.push(`alias ${value}`));
    settable = new Agent(
      { ...agent.setup, port: await freeUdpPort(), users: [user, writer] },
      new ObjectTree(write.instances),
    );
    await settable.listen();
  });
  afterAll(() => settable.close());
  beforeEach(() => void (done = []));

  test('a user who may write sets several objects at once', async () => {
    expect(await set(as('hands'), integer(admin, 2), text(alias, 'tram shed'))).toBe('set');
    expect(done).toEqual(['admin 2', 'alias tram shed']);
  });
  test.each([
    ['a number the object does not have', [integer(admin, 7)], /WrongValue: 1\.3\.6\.1\.2\.1\.2\.2\.1\.7\.3/],
    ['a text for a number', [text(admin, 'up')], /WrongType/],
    ['a text that is too long', [text(alias, 'much longer than twelve')], /WrongLength/],
    ['an object that can only be read', [text(sysDescr, 'mine')], /NotWritable/],
    ['an object that is not there', [integer('1.3.6.1.2.1.2.2.1.7.99', 1)], /NoCreation/],
    ['a good value beside a bad one', [text(alias, 'kept back'), integer(admin, 7)], /WrongValue/],
  ])('%s is refused, and nothing is done', async (_, varbinds, words) => {
    expect(await set(as('hands'), ...varbinds)).toMatch(words);
    expect(done).toEqual([]);
  });
  test('a user who may only read is told so', async () => {
    expect(await set(as('olr'), integer(admin, 2))).toMatch(/AuthorizationError/);
    expect(done).toEqual([]);
  });
  test('a community sets nothing in any version', async () => {
    for (const version of [snmp.Version1, snmp.Version2c]) {
      const session = snmp.createSession(address, 'reads', {
        port: settable.setup.port,
        timeout: 300,
        retries: 0,
        version,
      });
      sessions.push(session);
      expect(await set(session, integer(admin, 2))).toMatch(
        version === snmp.Version1 ? /NoSuchName/ : /AuthorizationError/,
      );
    }
    expect(done).toEqual([]);
  });
});

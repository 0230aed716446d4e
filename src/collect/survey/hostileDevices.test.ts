import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { createServer, type Server } from 'node:https';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { DisturbedAgent, type Disturbance } from '../../../e2e/support/disturbedAgent';
import { freePort, freeUdpPort, onLoopback } from '../../../e2e/support/program';
import type { Credential } from '../../core/estate/credential';
import { readScope, scopeDefaults, type Scope, type ScopeText } from '../../core/estate/scope';
import type { CollectedVisit } from '../../core/estate/visit';
import type { Signature } from '../../core/signatures/signature';
import { selfSigned } from '../../sim/https/certificate';
import { ObjectTree, ObjectWriter, type Instance } from '../../sim/snmp/objects';
import type { CertificateMemory } from '../https/certificates';
import { AddressReader, outcomeOfAnswers } from './addressReader';

/** Devices that would keep a survey for ever, or lie to it, over sockets. Each is told as what it is, and costs no more than it may. */
const plain = '127.204.1.1';
const entry = '1.3.6.1.2.1.2.2.1';
const signatures = [{ id: 'generic', order: 1000, match: {}, vendor: '', role: 'unknown' }] as unknown as Signature[];
const certificates: CertificateMemory = { pinned: () => null, pin: () => undefined, offered: () => undefined };
const community = { name: 'core', kind: 'snmp2c', community: 'reads' } as const;
const login = { name: 'hardware', kind: 'redfish', user: 'olr', password: 'harbour-bell-19' } as const;
const plainly: Disturbance = (octets) => [{ octets }];
/** the one question that asks who it is */
const isSystem = (octets: Buffer): boolean => octets.includes('lqy-ring');

let port: number;
let httpsPort: number;
let agent: DisturbedAgent | undefined;
let service: Server | undefined;

beforeEach(async () => {
  [port, httpsPort] = [await freeUdpPort(), await freePort()];
});
afterEach(async () => {
  agent?.close();
  agent = undefined;
  service?.closeAllConnections();
  await new Promise((resolve) => (service ? service.close(resolve) : resolve(null)));
  service = undefined;
});

/** A small switch: who it is, and some ports. */
function portsOf(ports: number): Instance[] {
  const write = new ObjectWriter();
  write.text('1.3.6.1.2.1.1.1.0', 'a small switch');
  write.objectId('1.3.6.1.2.1.1.2.0', '1.3.6.1.4.1.59101.1');
  write.ticks('1.3.6.1.2.1.1.3.0', 100);
  write.text('1.3.6.1.2.1.1.5.0', 'lqy-ring');
  for (let row = 1; row <= ports; row++) {
    write.integer(`${entry}.1.${row}`, row);
    write.text(`${entry}.2.${row}`, `port ${row}`);
  }
  return write.instances;
}
const instances = () => new ObjectTree(portsOf(3));

async function agentWith(objects: ObjectTree, disturb: Disturbance = plainly): Promise<void> {
  const setup = {
    address: plain,
    port,
    engineId: Buffer.from('8000e6dd0301', 'hex'),
    communities: ['reads'],
    users: [],
  };
  agent = new DisturbedAgent(setup, objects, disturb);
  await agent.listen('127.204.1.2');
}

function scopeWith(more: Partial<ScopeText>): Scope {
  const read = readScope({
    ...scopeDefaults,
    name: 'north',
    ranges: [plain],
    port,
    httpsPort,
    timeoutMs: 150,
    retries: 0,
    ...more,
  });
  if ('mistakes' in read) throw new Error(JSON.stringify(read.mistakes));
  return read.scope;
}

/** Surveys the one address. */
async function visited(
  credentials: Credential[],
  more: Partial<ScopeText> = {},
): Promise<CollectedVisit & { told: ReturnType<typeof outcomeOfAnswers> }> {
  const visits: CollectedVisit[] = [];
  const reader = new AddressReader({
    scope: scopeWith(more),
    credentials: credentials.map((one) => ({ ...one, approved: onLoopback(port, httpsPort) })),
    signatures,
    certificates,
    cancelled: () => false,
    hintOf: () => ({}) as never,
  });
  await reader.readAll([plain], (visit) => void visits.push(visit));
  reader.close();
  const [visit] = visits;
  if (!visit) throw new Error('nothing was told of the address');
  return { ...visit, told: visit.outcome ?? outcomeOfAnswers(visit) };
}

describe('an agent', () => {
  test('that goes back out of its table is no whole one', async () => {
    // behind the last object it begins anew
    class Round extends ObjectTree {
      override next(oid: number[], index?: number) {
        return super.next(oid, index) ?? super.next([1, 3]);
      }
    }
    await agentWith(new Round(portsOf(1)));
    const { told, missing } = await visited([community]);
    expect(told.outcome).toBe('partial');
    expect(missing.length).toBeGreaterThan(0);
    for (const { reason } of missing)
      expect(reason).toMatch(/^after [\d.]+ the agent went back to [\d.]+: its tables would never end$/);
  });

  test('that ends its tables in order is whole', async () => {
    await agentWith(instances());
    expect((await visited([community])).told).toMatchObject({ outcome: 'answered' });
  });

  test('that tells who it is and drops everything else is not silent', async () => {
    await agentWith(instances(), (octets) => (isSystem(octets) ? [{ octets }] : []));
    const { told, missing } = await visited([community]);
    expect(told.outcome).toBe('partial');
    expect(new Set(missing.map(({ reason, code }) => `${code}: ${reason}`))).toEqual(
      new Set([
        'other: the device told who it is, and answered nothing else: it stopped then, or its access rules show no more',
      ]),
    );
  });

  test('whose answers come too late is too slow, with the time they took, not silent', async () => {
    await agentWith(instances(), (octets) => [{ octets, afterMs: 280 }]);
    const { told } = await visited([community]);
    expect(told).toMatchObject({
      outcome: 'failed',
      reason: expect.stringMatching(/^the device is too slow: one answer came after 0\.[2-9] s$/),
      remedy: expect.stringContaining('longer time limit'),
    });
  });

  test('that grows slow half-way is told so', async () => {
    await agentWith(instances(), (octets) => [{ octets, afterMs: isSystem(octets) ? 0 : 220 }]);
    const { told, missing } = await visited([community]);
    expect([told.outcome, missing[0]?.code]).toEqual(['partial', 'slow']);
    expect(missing[0]?.reason).toMatch(/^the device is too slow/);
  });

  test('whose table never ends costs its time, not the survey', async () => {
    /** Each row has another behind it. */
    class Endless extends ObjectTree {
      override next(oid: number[], index?: number) {
        const column = `${entry}.2`.split('.').map(Number);
        if (!column.every((part, at) => oid[at] === part) || oid.length <= column.length) return super.next(oid, index);
        const row = (oid.at(-1) ?? 0) + 1;
        const write = new ObjectWriter();
        write.text(`${entry}.2.${row}`, `port ${row}`);
        return new ObjectTree(write.instances).next([1]);
      }
    }
    await agentWith(new Endless(portsOf(3)), (octets) => [{ octets, afterMs: 20 }]);
    const { told, missing } = await visited([community], { deviceSeconds: 1 });
    expect(told.outcome).toBe('partial');
    expect(missing.map(({ code, reason }) => `${code}: ${reason}`)).toContainEqual(
      'slow: left: it took more than the 1 s that a device may take',
    );
  });
});

describe('a service', () => {
  const serve = async (answer: (request: IncomingMessage, response: ServerResponse) => void): Promise<() => number> => {
    let requests = 0;
    service = createServer(await selfSigned('controller', plain), (request, response) => {
      requests++;
      answer(request, response);
    });
    await new Promise<void>((resolve) => service?.listen(httpsPort, plain, resolve));
    return () => requests;
  };
  const root = {
    '@odata.id': '/redfish/v1/',
    RedfishVersion: '1.6.0',
    Systems: { '@odata.id': '/redfish/v1/Systems' },
    Chassis: { '@odata.id': '/redfish/v1/Chassis' },
  };
  const json = (response: ServerResponse, body: unknown) => {
    response.setHeader('content-type', 'application/json');
    response.end(JSON.stringify(body));
  };
  const visitService = (more: Partial<ScopeText> = {}) =>
    visited([login], { timeoutMs: 300, deviceSeconds: 1, ...more });

  test('that is always busy and asks to come back at once is asked a handful of times', async () => {
    const asked = await serve((_, response) => {
      response.statusCode = 503;
      response.setHeader('retry-after', '0');
      response.end();
    });
    const { told } = await visitService();
    expect(told.outcome).toBe('failed');
    expect(told.reason).toMatch(/busy|took more than/);
    expect(asked()).toBeLessThan(60);
  });

  test('that says an octet now and then is left when its time is over', async () => {
    await serve((request, response) => {
      if (request.url === '/redfish/v1/' || request.url === '/redfish/v1') return json(response, root);
      response.setHeader('content-type', 'application/json');
      response.write('{');
      const drip = setInterval(() => response.write(' '), 100);
      response.on('close', () => clearInterval(drip));
      return undefined;
    });
    const { told, missing } = await visitService();
    const words = [told.reason, ...missing.map(({ reason }) => reason)].join(' ');
    expect(words).toContain('was left: it took more than the 5 s that a device may take');
  });

  test('whose tree has no end is left when it has said enough', async () => {
    const body = { filler: 'x'.repeat(4 * 1024 * 1024) };
    const asked = await serve((request, response) => {
      if (request.url === '/redfish/v1/' || request.url === '/redfish/v1') return json(response, root);
      const { length } = request.url ?? '';
      const members = Array.from({ length: 50 }, (_, at) => ({ '@odata.id': `${request.url}/${at}-${length}` }));
      return json(response, { Members: members, ...body, Systems: root.Systems });
    });
    const { told, missing } = await visitService({ deviceSeconds: 20 });
    const words = [told.reason, ...missing.map(({ reason }) => reason)].join(' ');
    expect(words).toMatch(/was left: it (answered with more than 256 MB|took more)|tells nothing/);
    expect(asked()).toBeLessThan(400);
  });

  test('that sends one elsewhere for ever is followed nowhere', async () => {
    const asked = await serve((request, response) => {
      response.statusCode = 302;
      response.setHeader('location', `${request.url}x`);
      response.end();
    });
    await visitService();
    expect(asked()).toBeLessThan(20);
  });
});

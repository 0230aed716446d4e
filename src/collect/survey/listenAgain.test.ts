import { createSocket, type Socket } from 'node:dgram';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, afterEach, beforeAll, expect, test } from '@jest/globals';
import { freeUdpPort } from '../../../e2e/support/program';
import { scopeOf } from '../../../e2e/support/sampleStore';
import type { AttachmentFacts } from '../../core/switching/placement';
import { Agent } from '../../sim/snmp/agent';
import * as ber from '../../sim/snmp/ber';
import { ObjectTree, ObjectWriter } from '../../sim/snmp/objects';
import { openStore, type Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { readSignatures } from '../../store/programFiles';
import { runSurvey } from './runSurvey';

/** A core and two switches on it; each tells its ports by number, its forwarding table by VLAN, and the core who has which address. */
const base = '127.212.7';
const vlan = 30;
const database = vlan + 1000;
const macOf = (machine: number) => `02:43:41:00:07:${machine.toString(16).padStart(2, '0')}`;
const octetsOf = (mac: string) => Buffer.from(mac.replaceAll(':', ''), 'hex');
const bridgeOf = (device: number) => `02:43:42:00:00:0${device}`;

interface Told {
  device: number;
  name: string;
  /** ports that are up */
  up: number[];
  /** MAC → port */
  hears: [string, number][];
  neighbours?: [address: string, mac: string][];
}

function treeOf({ device, name, up, hears, neighbours = [] }: Told): ObjectTree {
  const tell = new ObjectWriter();
  const text = (oid: string, value: string | Buffer) => tell.add(oid, ber.octets(value));
  const number = (oid: string, value: number, tag?: number) => tell.add(oid, ber.integer(value, tag));
  text('1.3.6.1.2.1.1.1.0', `${name}, a bridge for tests`);
  tell.add('1.3.6.1.2.1.1.2.0', ber.oid([1, 3, 6, 1, 4, 1, 59199, 7]));
  number('1.3.6.1.2.1.1.3.0', 100_000, 0x43);
  text('1.3.6.1.2.1.1.5.0', name);
  number('1.3.6.1.2.1.1.7.0', 2);
  text('1.3.6.1.2.1.17.1.1.0', octetsOf(bridgeOf(device)));
  for (const port of [1, 2, 3, 4, 5, 6, 24]) {
    number(`1.3.6.1.2.1.2.2.1.3.${port}`, 6);
    text(`1.3.6.1.2.1.2.2.1.2.${port}`, `port ${port}`);
    number(`1.3.6.1.2.1.2.2.1.7.${port}`, 1);
    number(`1.3.6.1.2.1.2.2.1.8.${port}`, up.includes(port) ? 1 : 2);
    text(`1.3.6.1.2.1.31.1.1.1.1.${port}`, String(port));
    // bridge ports are numbered otherwise than interfaces
    number(`1.3.6.1.2.1.17.1.4.1.2.${port + 100}`, port);
    number(`1.3.6.1.2.1.17.7.1.4.5.1.1.${port + 100}`, vlan, 0x42);
  }
  number(`1.3.6.1.2.1.17.7.1.4.2.1.3.0.${vlan}`, database);
  for (const [mac, port] of hears) {
    const index = `${database}.${[...octetsOf(mac)].join('.')}`;
    number(`1.3.6.1.2.1.17.7.1.2.2.1.2.${index}`, port + 100);
    number(`1.3.6.1.2.1.17.7.1.2.2.1.3.${index}`, 3);
  }
  for (const [address, mac] of neighbours) {
    text(`1.3.6.1.2.1.4.22.1.2.1.${address}`, octetsOf(mac));
    number(`1.3.6.1.2.1.4.22.1.4.1.${address}`, 3);
  }
  return new ObjectTree(tell.instances);
}

let port = 0;
let store: Store;
const folder = mkdtempSync(path.join(tmpdir(), 'bolide-listen-'));
const agents: Agent[] = [];
const sockets: Socket[] = [];
beforeAll(async () => {
  port = await freeUdpPort();
});
afterEach(() => {
  agents.splice(0).forEach((agent) => agent.close());
  sockets.splice(0).forEach((socket) => socket.close());
  store.close();
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** What machines 1 to 4 on ports 1 to 4 of the first switch look like, where that one lists only some of them. */
async function network(listed: number[]): Promise<Agent> {
  const all = [1, 2, 3, 4].map(macOf);
  const told: Told[] = [
    {
      device: 1,
      name: 'core',
      up: [1, 2],
      hears: [[bridgeOf(2), 1], [bridgeOf(3), 2], ...all.map((mac): [string, number] => [mac, 1])],
      neighbours: [1, 2, 3, 4].map((machine) => [`10.77.7.${machine + 100}`, macOf(machine)]),
    },
    first(listed),
    {
      device: 3,
      name: 'second',
      up: [24],
      hears: [[bridgeOf(1), 24], [bridgeOf(2), 24], ...all.map((mac): [string, number] => [mac, 24])],
    },
  ];
  for (const own of told) {
    const agent = new Agent(
      {
        address: `${base}.${own.device}`,
        port,
        engineId: Buffer.from(`8000e7af0500${own.device}0`, 'hex'),
        communities: ['tests'],
        users: [],
      },
      treeOf(own),
    );
    await agent.listen();
    agents.push(agent);
  }
  return agents[1] as Agent;
}

const first = (listed: number[]): Told => ({
  device: 2,
  name: 'first',
  up: [1, 2, 3, 4, 24],
  hears: [
    [bridgeOf(1), 24],
    [bridgeOf(3), 24],
    ...listed.map((machine): [string, number] => [macOf(machine), machine]),
  ],
});

/** A machine that says something when one octet reaches it: then its switch lists it. */
async function asleep(machine: number, wakes: () => void): Promise<void> {
  const socket = createSocket('udp4');
  sockets.push(socket);
  socket.on('message', (datagram) => datagram.length === 1 && wakes());
  await new Promise<void>((resolve) => socket.bind(port, `${base}.${machine + 100}`, resolve));
}

async function places(): Promise<Map<string, AttachmentFacts>> {
  const survey = await runSurvey(store, {
    scope: scopeOf({
      ranges: ['10.77.7.1-3', '10.77.7.101-104'],
      translations: [`10.77.7.0/24 via ${base}.0/24 port ${port}`],
      timeoutMs: 200,
      retries: 0,
    }),
    scopeName: 'tests',
    credentials: [{ name: 'tests', kind: 'snmp2c', community: 'tests' }],
    signatures: readSignatures(store.folder),
  });
  return new Map(
    factsAsOf<AttachmentFacts>(store.db, 'attachment', survey.survey).map(({ content }) => [content.mac, content]),
  );
}

test('machines that their switch has forgotten are touched, and it is asked for them once more', async () => {
  store = openStore(path.join(folder, 'woken'));
  const agent = await network([1, 2]);
  const awake = new Set([1, 2]);
  for (const machine of [3, 4]) {
    await asleep(machine, () => {
      awake.add(machine);
      agent.objects = treeOf(first([...awake]));
    });
  }
  const found = await places();
  expect([1, 2, 3, 4].map((machine) => found.get(macOf(machine))?.port)).toEqual(['1', '2', '3', '4']);
  expect(found.get(macOf(4))).toMatchObject({ vlan, addresses: ['10.77.7.104'] });
  expect(found.get(macOf(4))).not.toHaveProperty('basis');
}, 20_000);

test('where they keep still, the switch is named and the ports it may be, and nothing that was known is lost', async () => {
  store = openStore(path.join(folder, 'still'));
  await network([1, 2]);
  const found = await places();
  expect(found.get(macOf(1))).toMatchObject({ port: '1' });
  expect(found.get(macOf(3))).toMatchObject({ port: null, vlan, among: { ports: ['3', '4'] } });
}, 20_000);

import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { readdirSync, readFileSync, statfsSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { networkInterfaces } from 'node:os';
import path from 'node:path';
import type { Browser } from 'puppeteer-core';
import { startApplication } from './support/application';
import { fill, launchBrowser, openPage, openWhole, press, see } from './support/browser';
import { bolide, freeUdpPort, start, stopAll, temporaryFolder } from './support/program';

/** Debian's own SNMP agent on loopback: what Bolide says of this machine must be what the machine says of itself. */
const folder = temporaryFolder();
const address = '127.0.0.2';
let port: number;
let listenerPort = 0;
const listener = createServer();
/** below the ports that systems hand out in passing */
let datagramPort = 20_000 + Math.floor(Math.random() * 10_000);
const datagrams = createSocket('udp4');
let browser: Browser | undefined;

beforeAll(async () => {
  port = await freeUdpPort();
  await new Promise<void>((resolve) => listener.listen(0, '127.0.0.9', resolve));
  listenerPort = (listener.address() as AddressInfo).port;
  for (let bound = false; !bound; datagramPort += bound ? 0 : 1) {
    bound = await new Promise<boolean>((resolve) => {
      datagrams.once('error', () => resolve(false));
      datagrams.bind(datagramPort, '127.0.0.9', () => resolve(true));
    });
  }
  const config = path.join(folder, 'snmpd.conf');
  writeFileSync(
    config,
    [
      'rocommunity machine-readonly',
      'sysName workshop-host',
      'sysLocation Harbour Depot, workshop',
      'sysContact workshop desk',
      `agentAddress udp:${address}:${port}`,
      'createUser workshop SHA-256 "workshop-auth-1" AES "workshop-priv-2"',
      'rouser workshop priv',
      'createUser strong SHA-512 "workshop-auth-3" AES-256 "workshop-priv-4"',
      'rouser strong priv',
      '',
    ].join('\n'),
  );
  await start(
    '/usr/sbin/snmpd',
    ['-f', '-Lo', '-C', '-c', config, '-p', path.join(folder, 'pid'), `--persistentDir=${folder}`],
    /NET-SNMP|version/i,
  );
});
afterAll(async () => {
  listener.close();
  datagrams.close();
  await browser?.close();
  await stopAll();
});

interface Device {
  name: string;
  description: string;
  objectId: string;
  location: string;
  contact: string;
  role: string;
  addresses: string[];
  memoryBytes: number;
  credential: string;
  uptimeSeconds: number;
}
interface Port {
  name: string;
  mtu: number;
  mac: string | null;
  oper: string;
  addresses: string[];
}

const ask = async (data: string, credentials: string) =>
  bolide([
    'survey',
    '--data',
    data,
    '--range',
    address,
    '--port',
    String(port),
    '--credentials',
    credentials,
    '--json',
  ]);

test('by the command line, over v1, v2c and v3, field by field', async () => {
  const v3 = {
    name: 'v3',
    kind: 'snmp3',
    user: 'workshop',
    auth: { protocol: 'SHA-256', password: 'workshop-auth-1' },
    priv: { protocol: 'AES-128', password: 'workshop-priv-2' },
  };
  const strong = {
    name: 'v3-strong',
    kind: 'snmp3',
    user: 'strong',
    auth: { protocol: 'SHA-512', password: 'workshop-auth-3' },
    priv: { protocol: 'AES-256', password: 'workshop-priv-4' },
  };
  for (const credential of [
    { name: 'v1', kind: 'snmp1', community: 'machine-readonly' },
    strong,
    { name: 'v2c', kind: 'snmp2c', community: 'machine-readonly' },
    v3,
  ]) {
    const data = path.join(folder, credential.name);
    const file = path.join(folder, `${credential.name}.json`);
    writeFileSync(file, JSON.stringify([{ name: 'wrong', kind: 'snmp2c', community: 'not-this-one' }, credential]));
    const { code, out } = await ask(data, file);
    expect(code).toBe(0);
    expect(JSON.parse(out)).toMatchObject({
      addresses: { asked: 1, answered: 1 },
      devices: { found: 1, new: 1 },
      failures: [],
    });
    const rows = async <Row>(thing: string) =>
      JSON.parse((await bolide(['export', thing, '--data', data])).out) as Row[];

    const [device] = await rows<Device>('devices');
    const uname = (flag: string) => execFileSync('uname', [flag], { encoding: 'utf8' }).trim();
    expect(device).toMatchObject({
      name: 'workshop-host',
      location: 'Harbour Depot, workshop',
      contact: 'workshop desk',
      role: 'host',
      credential: credential.name,
    });
    expect(device?.description).toContain(`${uname('-s')} ${uname('-n')} ${uname('-r')}`);
    expect(device?.objectId).toMatch(/^1\.3\.6\.1\.4\.1\.\d+/);
    const totalKilobytes = Number(/MemTotal:\s+(\d+) kB/.exec(readFileSync('/proc/meminfo', 'utf8'))?.[1]);
    expect(device?.memoryBytes).toBe(totalKilobytes * 1024);

    const ports = await rows<Port>('ports');
    expect(ports.map(({ name }) => name).sort()).toEqual(
      readdirSync('/sys/class/net')
        .filter((name) => name !== 'bonding_masters')
        .sort(),
    );
    for (const found of ports) {
      const own = (file_: string) => readFileSync(`/sys/class/net/${found.name}/${file_}`, 'utf8').trim();
      expect([found.name, found.mtu]).toEqual([found.name, Number(own('mtu'))]);
      if (found.mac && own('address') !== '00:00:00:00:00:00') expect(found.mac).toBe(own('address'));
    }
    const outside = Object.values(networkInterfaces())
      .flat()
      .filter((entry) => entry && entry.family === 'IPv4' && !entry.internal)
      .map((entry) => entry?.address);
    for (const own of outside) expect(device?.addresses).toContain(own);

    const services = await rows<{
      process: string;
      protocol: string;
      address: string;
      port: number;
      path: string;
      arguments: string;
    }>('services');
    expect(services).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ protocol: 'udp', address: '127.0.0.9', port: datagramPort }),
        expect.objectContaining({ protocol: 'tcp', address: '127.0.0.9', port: listenerPort }),
      ]),
    );
    const routes = await rows<{ destination: string; nextHop: string; port: string }>('routes');
    const [ipv4Default] = readFileSync('/proc/net/route', 'utf8')
      .split('\n')
      .map((line) => line.split('\t'))
      .filter(([, destination]) => destination === '00000000');
    if (ipv4Default) {
      const nextHop = Buffer.from(ipv4Default[2] ?? '', 'hex')
        .reverse()
        .join('.');
      expect(routes).toEqual(
        expect.arrayContaining([expect.objectContaining({ destination: '0.0.0.0/0', nextHop, port: ipv4Default[0] })]),
      );
    }
    const installed = await rows<{ name: string; version: string }>('software');
    const told = execFileSync('dpkg-query', ['-W', '-f', '${Package} ${Version}\n', 'snmpd', 'bash'], {
      encoding: 'utf8',
    })
      .trim()
      .split('\n')
      .map((line) => line.split(' '));
    for (const [name = '', version = ''] of told)
      expect(installed).toEqual(expect.arrayContaining([expect.objectContaining({ name, version })]));
  }
});

test('through the interface: name, memory and storage as the machine has them', async () => {
  const app = await startApplication();
  browser = await launchBrowser();
  const { page } = await openPage(browser);
  await page.goto(`${app.address}/`);
  await fill(page, 'input[name=name]', 'marla');
  await fill(page, 'input[name=password]', 'ostermere-lights');
  await fill(page, 'input[name=confirmation]', 'ostermere-lights');
  await press(page, 'Make the administrator');
  await see(page, 'Setting up');
  await openWhole(page, `${app.address}/survey`);
  await see(page, 'No credential yet');
  await page.evaluate(
    async (scope) => {
      const post = (where: string, body: object) =>
        fetch(`/api/v1/${where}`, {
          method: 'POST',
          body: JSON.stringify(body),
          headers: { 'content-type': 'application/json' },
        });
      await post('credentials', {
        name: 'workshop',
        kind: 'snmp2c',
        community: 'machine-readonly',
        approved: { prefixes: scope.ranges, ports: [scope.port] },
      });
      await post('scopes', scope);
    },
    {
      name: 'workshop',
      ranges: [address],
      exclusions: [],
      translations: [],
      credentials: ['workshop'],
      port,
      timeoutMs: 1000,
      retries: 1,
      concurrency: 8,
      largestPrefix: 16,
    },
  );
  await page.reload();
  await press(page, 'Run now');
  await see(page, 'by the clock');
  await page.goto(`${app.address}/estate?sel=device:1`);
  await see(page, 'Harbour Depot, workshop');
  const { storage } = await page.evaluate(
    async () =>
      (await fetch('/api/v1/devices/1')).json() as Promise<{ storage: { name: string; sizeBytes: number }[] }>,
  );
  const root = storage.find(({ name }) => name === '/');
  const { blocks, bsize } = statfsSync('/');
  expect(Math.abs((root?.sizeBytes ?? 0) - blocks * bsize)).toBeLessThan(1024 ** 2 * 64);
  await see(page, 'Memory and storage');
  await see(page, /Physical memory/);
});

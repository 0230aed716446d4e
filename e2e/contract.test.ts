import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync, existsSync } from 'node:fs';
import path from 'node:path';
import Database from 'better-sqlite3';
import { databaseFile } from '../src/store/base/database';
import { captureOf, packetsOf } from './support/captures';
import {
  bolide,
  freeUdpPort,
  home,
  sampleCredentials,
  sampleRanges,
  startAgents,
  startBolide,
  stop,
  stopAll,
  temporaryFolder,
} from './support/program';

const folder = temporaryFolder();
const data = path.join(folder, 'data');
const credentials = path.join(folder, 'credentials.json');
const survey = (via: string, more: string[] = []) =>
  bolide([
    'survey',
    '--data',
    data,
    '--range',
    sampleRanges,
    '--credentials',
    credentials,
    '--via',
    via,
    '--timeout',
    '400',
    '--json',
    ...more,
  ]);

interface Summary {
  survey: number;
  addresses: { asked: number; answered: number; silent: number };
  devices: { found: number; new: number; changed: number; replaced: number; silent: number };
  phases: Record<string, number>;
  failures: { address: string; part: string; reason: string; remedy: string }[];
}

async function rowsOf<Row = Record<string, unknown>>(thing: string, ...more: string[]): Promise<Row[]> {
  const { code, out, err } = await bolide(['export', thing, '--data', data, ...more]);
  expect([code, err]).toEqual([0, '']);
  return JSON.parse(out) as Row[];
}

let summaries: Summary[] = [];

beforeAll(async () => {
  writeFileSync(credentials, JSON.stringify(sampleCredentials));
  for (const step of [1, 2, 8]) {
    const agents = await startAgents(step);
    const { code, out, err } = await survey(agents.via);
    expect([code, err]).toEqual([0, '']);
    summaries = [...summaries, JSON.parse(out) as Summary];
    await stop(agents.process);
  }
});
afterAll(stopAll);

describe('survey --json', () => {
  test('one object with the fields of the contract, and nothing else on standard output', () => {
    expect(Object.keys(summaries[0] ?? {}).sort()).toEqual([
      'addresses',
      'devices',
      'failures',
      'phases',
      'sealedAt',
      'seconds',
      'startedAt',
      'survey',
    ]);
    expect(Object.keys(summaries[0]?.phases ?? {}).sort()).toEqual([
      'collect',
      'commit',
      'conclude',
      'interpret',
      'probe',
    ]);
    expect(summaries[0]).toMatchObject({
      survey: 1,
      addresses: { answered: 30 },
      devices: { found: 30, new: 30, replaced: 0, silent: 0 },
      failures: [],
    });
  });
  test('a replaced switch is one replacement, a new stop two devices, a silent switch is told with a remedy', () => {
    expect(summaries[1]?.devices).toMatchObject({ found: 30, new: 0, replaced: 1, silent: 0 });
    expect(summaries[2]?.devices).toMatchObject({ found: 31, new: 2, silent: 1 });
    expect(summaries[2]?.failures).toEqual([
      {
        address: '10.72.6.2',
        part: 'probe',
        reason: 'no answer to any credential',
        remedy: expect.stringContaining('SNMP is off'),
      },
    ]);
  });
});

describe('import', () => {
  const file = (name: string, text: string) => {
    writeFileSync(path.join(folder, name), text);
    return path.join(folder, name);
  };
  const take = (thing: string, from: string, ...more: string[]) =>
    bolide(['import', thing, from, '--data', data, ...more]);
  test('captures: who talked to whom, each file once, and from several places what both saw once', async () => {
    const [ring] = await rowsOf<{ address: string }>('devices', '--where', 'name=rpw-ring');
    const server = ring?.address ?? '';
    const { packets, truth } = packetsOf([
      {
        client: '10.72.99.7',
        server,
        port: 22,
        protocol: 6,
        connections: [
          { clientPort: 50_001, at: 1_777_896_000, says: [40, 900] },
          { clientPort: 50_002, at: 1_777_899_700, says: [40] },
        ],
      },
      {
        client: '10.72.99.7',
        server: '10.72.99.53',
        port: 53,
        protocol: 17,
        connections: [{ clientPort: 50_003, at: 1_777_896_100, says: [30, 60] }],
      },
    ]);
    const whole = captureOf(packets, { format: 'pcap', bigEndian: false, link: 'ethernet' });
    const [first, again, mirror, cut, none] = [
      ['gate.pcap', whole],
      ['copy-of-gate.pcap', whole],
      ['mirror.pcapng', captureOf(packets, { format: 'pcapng, nanoseconds', bigEndian: true, link: 'vlan' })],
      ['cut.pcap', whole.subarray(0, whole.length - 5)],
      ['notes.pcap', Buffer.from('no capture at all')],
    ].map(([name, octets]) => {
      writeFileSync(path.join(folder, String(name)), octets as Buffer);
      return path.join(folder, String(name));
    });
    const taken = async (...files: (string | undefined)[]) => {
      const { code, out, err } = await bolide(['import', 'captures', ...files.map(String), '--data', data, '--json']);
      return { code, err, files: (JSON.parse(out || '{"files":[]}') as { files: Record<string, unknown>[] }).files };
    };
    expect((await taken(first, again, mirror)).files).toMatchObject([
      { state: 'taken in', packets: packets.length, conversations: 2, notes: [] },
      { state: 'taken in before' },
      { state: 'taken in', packets: packets.length },
    ]);
    type Row = { client: { address: string }; server: { address: string; device: string; port: number } } & Record<
      string,
      unknown
    >;
    const all = await rowsOf<Row>('conversations', '--where', 'clientAddress=10.72.99.7');
    const sum = ({ toServer, toClient }: { toServer: number; toClient: number }) => toServer + toClient;
    // seen at the gate and at the mirror, and counted once
    expect(
      all.map(({ client, server: asked, protocol, events, packets: count, bytes, sources }) => [
        client.address,
        asked.address,
        asked.port,
        protocol,
        events,
        count,
        bytes,
        sources,
      ]),
    ).toEqual(
      truth
        .map((one) => [
          one.client,
          one.server,
          one.port,
          one.protocol === 6 ? 'tcp' : 'udp',
          one.events,
          sum(one.packets),
          sum(one.octets),
          ['gate.pcap', 'mirror.pcapng'],
        ])
        .sort((x, y) => (x[1] === server ? 1 : 0) - (y[1] === server ? 1 : 0)),
    );
    expect(all.find(({ server: asked }) => asked.port === 22)?.server.device).toBe('rpw-ring');
    // what was cut off counts as far as it goes; what is none is told, and the others are taken all the same
    const odd = await taken(none, cut);
    expect(odd.code).toBe(2);
    expect(odd.err).toMatch(/notes\.pcap: this is no pcap or pcapng file/);
    expect(odd.files).toMatchObject([
      { state: 'refused' },
      { state: 'taken in', packets: packets.length - 1, notes: [expect.stringMatching(/cut off within a packet/)] },
    ]);
  });
  test('contracts: nothing on a dry run, then all of them; what is exported comes in again as it is', async () => {
    const serial = (await rowsOf<{ serial: string }>('devices', '--where', 'name=rpw-ring'))[0]?.serial ?? '';
    const right = file(
      'contracts.csv',
      `number,kind,supplier,until,serial,price\nKS-1,contract,Kestrane Service,2099-12-31,${serial},12\nKS-1,,,,SHELF-1,\n`,
    );
    expect(await take('contracts', right, '--dry-run')).toMatchObject({
      code: 0,
      out: '',
      err: expect.stringMatching(
        /not taken: price[^]*no survey has seen: SHELF-1[^]*1 new, 0 changed; nothing is written/,
      ),
    });
    expect(await rowsOf('contracts')).toEqual([]);
    expect(await take('contracts', right)).toMatchObject({ code: 0, err: expect.stringContaining('written') });
    expect(await rowsOf('contracts', '--columns', 'number,kind,until,serials,inService,devices')).toEqual([
      {
        number: 'KS-1',
        kind: 'contract',
        until: '2099-12-31',
        serials: [serial, 'SHELF-1'],
        inService: 1,
        devices: ['rpw-ring'],
      },
    ]);
    expect(await rowsOf('devices', '--where', 'cover=covered', '--columns', 'name,coverUntil,coveredBy')).toEqual([
      { name: 'rpw-ring', coverUntil: '2099-12-31', coveredBy: ['KS-1'] },
    ]);
    await bolide(['export', 'contracts', '--data', data, '--format', 'csv', '--out', path.join(folder, 'again.csv')]);
    expect(await take('contracts', path.join(folder, 'again.csv'))).toMatchObject({
      code: 0,
      err: expect.stringContaining('nothing to write'),
    });
  });
  test('outlets come in by the same way, and are columns of the ports they lead to', async () => {
    expect(
      await take(
        'outlets',
        file(
          'outlets.csv',
          'site,outlet,room,panel,position,device,port,colour\nRPW,R0-01,Kiosk,PP1,01,rpw-ring,7,grey\n',
        ),
      ),
    ).toMatchObject({ code: 0, err: expect.stringMatching(/not taken: colour[^]*1 new, 0 changed; written/) });
    expect(await rowsOf('ports', '--where', 'room=Kiosk', '--columns', 'device,name,outlet,panel')).toEqual([
      { device: 'rpw-ring', name: '7', outlet: 'R0-01', panel: 'PP1/01' },
    ]);
  });
  test('sites come in by their prefixes, and devices stand there at once', async () => {
    expect(await rowsOf('devices', '--where', 'site!=""')).toEqual([]);
    expect(await take('sites', file('sites.csv', 'site,prefix\nRPW,10.72.4.0/24\n'))).toMatchObject({
      code: 0,
      err: expect.stringContaining('1 prefix: 1 new, 0 changed; written'),
    });
    const there = await rowsOf<{ name: string }>('devices', '--where', 'site=RPW');
    expect(there.map(({ name }) => name)).toContain('rpw-plat');
    expect(there.every(({ name }) => name.startsWith('rpw-'))).toBe(true);
  });
  test('own fields and makers come in by the same way', async () => {
    expect(await take('devices', file('own.csv', 'name;asset number\nrpw-ring;OLR-1\n'))).toMatchObject({
      code: 0,
      err: expect.stringContaining('1 line: 1 new, 0 changed; written'),
    });
    expect(await rowsOf('devices', '--where', 'assetNumber=OLR-1', '--columns', 'name,assetNumber')).toEqual([
      { name: 'rpw-ring', assetNumber: 'OLR-1' },
    ]);
    expect(await take('makers', file('makers.csv', 'prefix,maker\n02:4B:45,Kestrane\n'))).toMatchObject({ code: 0 });
    expect(
      (await rowsOf<{ maker: string }>('endpoints', '--where', 'mac:02:4b:45', '--columns', 'maker')).every(
        ({ maker }) => maker === 'Kestrane',
      ),
    ).toBe(true);
  });
  test.each([
    [
      'contracts',
      'number,kind,until,serial\nX,lease,2026-13-01,\n',
      [/:2: kind: “lease”/, /:2: until: “2026-13-01”/, /:2: serial: names no serial/, /nothing was written/],
    ],
    ['contracts', 'number,serial\n', [/:1: No column “kind”/]],
    ['devices', 'name,colour\nrpw-ring,red\n', [/:1: colour: There is no own field “colour”/]],
    [
      'outlets',
      'site,outlet,device,port\nRPW,R0-02,rpw-ring,7\nRPW,R0-03,nobody,1\n',
      [/:2: port: that port is R0-01’s already/, /:3: device: no survey knows/, /nothing was written/],
    ],
    ['makers', 'prefix,maker\n02:4b,Kestrane\n', [/:2: prefix: “02:4b” is no prefix/]],
    ['contracts', 'number,kind\n"X,', [/never closed/]],
    ['cables', '', [/nothing that can be imported/]],
  ])('a mistake in %s ends with code 2, its line, and nothing written', async (thing, text, words) => {
    const { code, err } = await take(thing, file('wrong.csv', text));
    expect(code).toBe(2);
    for (const one of words) expect(err).toMatch(one);
    expect((await rowsOf('contracts')).length).toBe(1);
  });
});

describe('exports hold the contract field by field', () => {
  test.each([
    [
      'devices',
      'name site role vendor family model serial release address addresses objectId description contact location uptimeSeconds memoryBytes flashBytes flashFreeBytes state credential firstSeen lastAnswered units',
    ],
    [
      'modules',
      'device path class name description vendor model serial hardwareRevision firmwareRevision softwareRevision replaceable position parent empty',
    ],
    [
      'ports',
      'device index name alias description type admin oper speedBps duplex mtu mac vlan taggedVlans voiceVlan addresses lag poe lastChangeSeconds stp kind neighbour endpoints',
    ],
    ['links', 'a b kind confidence evidence speedBps blocked issues'],
    ['endpoints', 'mac addresses host maker vlan device port via firstSeen lastSeen'],
    ['ledger', 'serial state device firstSeen lastSeen'],
    ['changes', 'survey subject kind field before after'],
    ['visits', 'survey address outcome reason remedy seconds phases'],
  ])('%s', async (thing, fields) => {
    const rows = await rowsOf(thing);
    expect(rows.length).toBeGreaterThan(0);
    for (const field of fields.split(' ')) expect(Object.keys(rows[0] ?? {})).toContain(field);
  });
  test('readiness judges nobody before a target is set', async () => {
    expect(await rowsOf('readiness')).toEqual([]);
  });
});

describe('what the equipment is, field by field, against what the sample says', () => {
  test('a switch', async () => {
    const [row] = await rowsOf('devices', '--where', 'name=rpw-plat');
    expect(row).toMatchObject({
      site: 'RPW',
      role: 'switch',
      vendor: 'Kestrane',
      family: 'K-Access',
      model: 'K-Access 48',
      serial: 'KA48-93302',
      release: '7.4.12b',
      address: '10.72.4.2',
      objectId: '1.3.6.1.4.1.59101.1.48',
      memoryBytes: 512 * 1024 ** 2,
      flashBytes: 256 * 1024 ** 2,
      flashFreeBytes: 140 * 1024 ** 2,
      state: 'answering',
      credential: 'v3',
    });
  });
  test('a silent switch keeps what was known', async () => {
    expect(await rowsOf('devices', '--where', 'state=silent')).toMatchObject([{ name: 'ofy-plat', release: '7.4.9' }]);
  });
  test('modules: line cards in their slots, empty slots, memory sockets', async () => {
    const slots = await rowsOf('modules', '--where', 'device=sgh-core-1 name:Slot');
    expect(slots.filter(({ empty }) => empty).map(({ name }) => name)).toEqual(['Slot 5', 'Slot 7']);
    expect(await rowsOf('modules', '--where', 'device=sgh-srv-01 class=memory')).toHaveLength(4);
  });
  test('ports: who is plugged in, and how it is known', async () => {
    const ports = await rowsOf<{
      name: string;
      kind: string;
      vlan: number;
      endpoints: { via: string; address: string }[];
      neighbour: { device: string } | null;
    }>('ports', '--where', 'device=rpw-plat');
    const port = (name: string) => ports.find((row) => row.name === name);
    expect(port('U1')).toMatchObject({ kind: 'uplink', neighbour: { device: 'rpw-ring', port: '3' }, endpoints: [] });
    expect(port('12')?.endpoints.map(({ via }) => via)).toEqual(Array(5).fill('unmanaged'));
    expect(
      port('14')
        ?.endpoints.map(({ via }) => via)
        .sort(),
    ).toEqual(['direct', 'phone']);
    expect(port('15')?.endpoints).toMatchObject([{ address: '10.72.4.73' }]);
    expect(port('6')).toMatchObject({ duplex: 'half', speedBps: 10_000_000, vlan: 10 });
    expect(
      port('20')
        ?.endpoints.map(({ via }) => via)
        .sort(),
    ).toEqual(['direct', 'wireless', 'wireless', 'wireless']);
  });
  test('links: every planted mismatch is found and worded', async () => {
    const issues = (await rowsOf<{ issues: { kind: string; words: string }[] }>('links')).flatMap((row) => row.issues);
    expect(issues.map(({ kind }) => kind).sort()).toEqual(['allowedVlans', 'duplex', 'nativeVlan', 'oneSided']);
    expect(issues.find(({ kind }) => kind === 'oneSided')?.words).toBe('sgh-acc-2 does not hear sgh-core-2 on U2');
  });
  test('changes against an earlier survey: replaced, moved, gone, silent', async () => {
    expect(await rowsOf('changes', '--survey', '2', '--against', '1', '--where', 'kind=replaced')).toMatchObject([
      { subject: 'rpw-plat', before: 'KA48-90117', after: 'KA48-93302' },
      { field: 'serial' },
    ]);
    expect(await rowsOf('changes', '--where', 'kind=silent')).toMatchObject([{ subject: 'ofy-plat' }]);
    expect(await rowsOf('changes', '--where', 'kind=removed subject:"DIMM 4"')).toMatchObject([
      { subject: 'sgh-srv-04 / Memory socket 4 / DIMM 4' },
    ]);
    expect(await rowsOf('faults', '--where', 'subsystem=power')).toMatchObject([
      { device: 'sgh-core-1' },
      { device: 'sgh-edge-2', part: 'sgh-edge-2 / Supply 2', severity: 'critical' },
    ]);
    expect(await rowsOf('changes', '--where', 'thing=endpoint field=port')).toMatchObject([
      { kind: 'changed', before: '9', after: '15' },
    ]);
  });
  test('the ledger remembers the serial that left', async () => {
    expect(await rowsOf('ledger', '--where', 'serial=KA48-90117')).toMatchObject([
      { state: 'gone', device: 'rpw-plat', moves: 0 },
    ]);
  });
  test('an earlier survey is what it was', async () => {
    expect(await rowsOf('devices', '--survey', '1', '--where', 'name=rpw-plat')).toMatchObject([
      { serial: 'KA48-90117', release: '7.4.9' },
    ]);
    expect(await rowsOf('devices', '--survey', '1', '--against', '3', '--where', 'change=gone')).toHaveLength(2);
  });
});

describe('wrong input', () => {
  test.each([
    [['survey', '--data', 'x', '--range', '10.72.4.1/24', '--community', 'c'], 'did you mean 10.72.4.0/24'],
    [['survey', '--data', 'x', '--range', '10.0.0.0/8', '--community', 'c'], 'larger than /16'],
    [['survey', '--data', 'x', '--range', '10.72.4.0/24,10.72', '--community', 'c'], '--range, entry 2'],
    [['survey', '--data', 'x', '--range', '10.72.4.1', '--credentials', '/nonexistent'], 'there is no file'],
    [['survey', '--data', 'x', '--range', '10.72.4.1', '--walks', 'y'], 'exactly one'],
    [['survey', '--data', 'x', '--range', '10.72.4.1', '--timeout', 'soon', '--community', 'c'], '--timeout “soon”'],
    [['survey', '--data', 'x'], 'exactly one'],
    [['survey'], '--data'],
    [['export', 'cables', '--data', 'x'], 'nothing that can be exported'],
    [['export', 'devices', '--data', '/nonexistent'], 'there is no data'],
    [['sim', '--scenario', '--base', '10.72.0.0'], 'loopback'],
    [['unheard'], 'unknown command'],
  ])('%j is refused with code 2 and the reason', async (args, words) => {
    const { code, err, out } = await bolide(args);
    expect([code, out]).toEqual([2, '']);
    expect(err).toContain(words);
    expect(existsSync('x')).toBe(false);
  });
  test('an unknown kind of credential names its entry', async () => {
    const file = path.join(folder, 'wrong.json');
    writeFileSync(file, JSON.stringify([sampleCredentials[1], { name: 'a', kind: 'telnet', user: 'x' }]));
    const { code, err } = await bolide([
      'survey',
      '--data',
      path.join(folder, 'none'),
      '--range',
      '10.72.4.1',
      '--credentials',
      file,
    ]);
    expect(code).toBe(2);
    expect(err).toContain('entry 2: kind: “telnet” is no kind of credential');
    expect(existsSync(path.join(folder, 'none'))).toBe(false);
  });
  test('a filter mistake tells its place', async () => {
    const { code, err } = await bolide(['export', 'devices', '--data', data, '--where', 'role=switch sit=RPW']);
    expect(code).toBe(2);
    expect(err).toContain('There is no field “sit”, at character 13; expected one of site');
  });
  test('nothing answered is code 3', async () => {
    const port = await freeUdpPort();
    const { code, out } = await bolide([
      'survey',
      '--data',
      path.join(folder, 'empty'),
      '--range',
      '127.99.1.1-3',
      '--community',
      'c',
      '--port',
      String(port),
      '--timeout',
      '60',
      '--retries',
      '0',
      '--json',
    ]);
    expect(code).toBe(3);
    expect(JSON.parse(out)).toMatchObject({ addresses: { asked: 3, answered: 0, silent: 3 } });
  });
});

test('wrong SNMPv3 secrets are told apart in words', async () => {
  const agents = await startAgents(1);
  const reason = async (change: object) => {
    const file = path.join(folder, 'v3.json');
    writeFileSync(file, JSON.stringify([{ ...sampleCredentials[0], ...change }]));
    const { out } = await bolide([
      'survey',
      '--data',
      path.join(folder, 'v3'),
      '--range',
      '10.72.4.2',
      '--credentials',
      file,
      '--via',
      agents.via,
      '--timeout',
      '300',
      '--json',
    ]);
    return (JSON.parse(out) as Summary).failures[0]?.reason ?? 'answered';
  };
  expect(await reason({})).toBe('answered');
  expect(await reason({ user: 'somebody' })).toContain('does not know the user');
  expect(await reason({ auth: { protocol: 'SHA-256', password: 'wrong-password' } })).toContain(
    'authentication password',
  );
  expect(await reason({ priv: { protocol: 'AES-128', password: 'wrong-password' } })).toContain('cannot decrypt');
  await stop(agents.process);
});

test('walk files give the same as the agent they would be taken from; one that cannot be read is told', async () => {
  const walks = path.join(folder, 'walks');
  mkdirSync(walks);
  writeFileSync(
    path.join(walks, '10.72.90.1.walk'),
    [
      '.1.3.6.1.2.1.1.1.0 = STRING: "Kestrane K-Ring 12, release 7.4.9, boot 2.4"',
      '.1.3.6.1.2.1.1.2.0 = OID: .1.3.6.1.4.1.59101.1.12',
      '.1.3.6.1.2.1.1.5.0 = STRING: "mlr-ring"',
      '.1.3.6.1.2.1.2.2.1.1.1 = INTEGER: 1',
      '.1.3.6.1.2.1.2.2.1.2.1 = STRING: "1"',
      '.1.3.6.1.2.1.2.2.1.3.1 = INTEGER: ethernetCsmacd(6)',
      '.1.3.6.1.4.1.59101.2.1.1.0 = Gauge32: 512',
    ].join('\n'),
  );
  writeFileSync(path.join(walks, '10.72.90.2.walk'), 'Timeout: No Response from 10.72.90.2');
  const fromFiles = await bolide(['survey', '--data', path.join(folder, 'walked'), '--walks', walks, '--json']);
  expect(fromFiles.code).toBe(0);
  expect((JSON.parse(fromFiles.out) as Summary).failures).toMatchObject([
    { address: '10.72.90.2.walk', reason: expect.stringContaining('line 1') },
  ]);
  const exported = async (where: string) =>
    JSON.parse(
      (await bolide(['export', 'devices', '--data', where, '--columns', 'name,model,release,memoryBytes,role'])).out,
    ) as unknown;
  const device = [
    { name: 'mlr-ring', model: 'K-Ring 12', release: '7.4.9', memoryBytes: 512 * 1024 ** 2, role: 'switch' },
  ];
  expect(await exported(path.join(folder, 'walked'))).toEqual(device);

  const port = await freeUdpPort();
  const agents = await startBolide(
    ['sim', '--walks', walks, '--base', '127.199.0.0', '--port', String(port)],
    /agents on/,
  );
  const live = await bolide([
    'survey',
    '--data',
    path.join(folder, 'live'),
    '--range',
    '10.72.90.1',
    '--community',
    'public',
    '--via',
    `10.72.0.0/16=127.199.0.0/16:${port}`,
    '--timeout',
    '400',
    '--json',
  ]);
  expect(live.code).toBe(0);
  expect(await exported(path.join(folder, 'live'))).toEqual(device);
  await stop(agents);
});

/** Waits until a survey is in its middle: some addresses have answered, others have not. */
async function someAnswers(folder: string): Promise<void> {
  for (;;) {
    await new Promise((resolve) => setTimeout(resolve, 50));
    if (!existsSync(databaseFile(folder))) continue;
    const db = new Database(databaseFile(folder), { readonly: true });
    try {
      const { done } = db.prepare("select count(*) as done from visit where state = 'done'").get() as { done: number };
      if (done >= 3) return;
    } catch {
      // its tables are being made
    } finally {
      db.close();
    }
  }
}

test('a survey killed at any moment is never sealed, and the next goes on from sound data', async () => {
  const agents = await startAgents(8);
  const killed = path.join(folder, 'killed');
  const child = spawn(
    process.execPath,
    [
      path.join(home, 'bin/bolide'),
      'survey',
      '--data',
      killed,
      '--range',
      sampleRanges,
      '--credentials',
      credentials,
      '--via',
      agents.via,
      '--timeout',
      '400',
      '--concurrency',
      '3',
      '--json',
    ],
    { stdio: 'ignore' },
  );
  await someAnswers(killed);
  await stop(child, 'SIGKILL');
  expect(JSON.parse((await bolide(['export', 'devices', '--data', killed])).out)).toEqual([]);
  const again = await bolide([
    'survey',
    '--data',
    killed,
    '--range',
    sampleRanges,
    '--credentials',
    credentials,
    '--via',
    agents.via,
    '--timeout',
    '400',
    '--json',
  ]);
  expect(again.code).toBe(0);
  expect((JSON.parse(again.out) as Summary).devices.found).toBe(31);
  const names = (
    JSON.parse((await bolide(['export', 'devices', '--data', killed, '--columns', 'name'])).out) as { name: string }[]
  ).map(({ name }) => name);
  expect(new Set(names).size).toBe(31);
  await stop(agents.process);
});

test('people and tokens', async () => {
  const add = (name: string, password: string) =>
    bolide(['user', 'add', name, '--data', data, '--role', 'operator'], { BOLIDE_PASSWORD: password });
  expect((await add('marla', 'short')).err).toContain('at least 10 characters');
  expect((await add('marla', 'ostermere-lights')).code).toBe(0);
  expect(await add('marla', 'ostermere-lights')).toMatchObject({ code: 2, err: expect.stringContaining('already') });
  // piped in with a line end, without one, and not at all
  const piped = (name: string, input: string) => bolide(['user', 'add', name, '--data', data], {}, input);
  expect(await piped('wenna', 'harbour-depot-7\n')).toMatchObject({ code: 0, err: 'wenna may sign in as viewer\n' });
  expect(await piped('osric', 'harbour-depot-7')).toMatchObject({ code: 0, err: 'osric may sign in as viewer\n' });
  expect(await piped('nobody', '')).toMatchObject({ code: 2, err: expect.stringContaining('at least 10 characters') });
  expect((await bolide(['token', 'add', 'script', '--data', data])).out).toMatch(/^bol_\S{40}\n$/);
  expect(readFileSync(path.join(data, 'bolide.sqlite')).toString('latin1')).not.toContain('signal-lantern-71');
});

test('every command that the program lists is there when it is named alone', async () => {
  const { out } = await bolide(['--help']);
  const listed = [...(out.split('Commands:')[1] ?? '').matchAll(/^ {2}([a-z]+)/gm)].map(([, name]) => name ?? '');
  expect(listed).toEqual(expect.arrayContaining(['serve', 'survey', 'export', 'import', 'user', 'token', 'collector']));
  for (const name of listed.filter((one) => one !== 'help')) {
    const { code, out: help } = await bolide([name, '--help']);
    expect([name, code, help.split('\n')[0]]).toEqual([name, 0, expect.stringContaining(`bolide ${name}`)]);
  }
});

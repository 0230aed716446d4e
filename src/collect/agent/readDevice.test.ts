import { describe, expect, test } from '@jest/globals';
import type { SystemGroup } from '../../core/mib/system';
import { tableRows, type TableRow } from '../../core/mib/table';
import type { Varbind } from '../../core/mib/varbind';
import type { Signature } from '../../core/signatures/signature';
import { inParallel } from '../inParallel';
import { readDevice, readSystem } from './readDevice';
import { SourceError, type SourceFault, type VarbindSource } from '../source';

const octets = (text: string) => ({ type: 'octets' as const, value: new TextEncoder().encode(text) });
const ifDescr = '1.3.6.1.2.1.2.2.1';
const entPhysical = '1.3.6.1.2.1.47.1.1.1.1';
const bridgeAddress = '1.3.6.1.2.1.17.1.1.0';

/** A source that answers from a list, breaks where told, and remembers what it was asked. */
class ScriptedSource implements VarbindSource {
  readonly asked: string[] = [];
  constructor(
    readonly varbinds: Varbind[],
    readonly faults: Record<string, SourceFault> = {},
    readonly contexts: Record<string, ScriptedSource> = {},
  ) {}
  get(oids: string[]): Promise<Varbind[]> {
    this.asked.push(...oids);
    const fault = oids.map((oid) => this.faults[oid]).find(Boolean);
    if (fault) return Promise.reject(new SourceError(fault, 'told to fail'));
    return Promise.resolve(this.varbinds.filter(({ oid }) => oids.includes(oid)));
  }
  columns(entry: string, columns: readonly number[]): Promise<TableRow[]> {
    this.asked.push(entry);
    const found = tableRows(
      entry,
      this.varbinds.filter(({ oid }) => columns.some((column) => oid.startsWith(`${entry}.${column}.`))),
    );
    const fault = this.faults[entry];
    if (fault) return Promise.reject(new SourceError(fault, 'told to fail', found));
    return Promise.resolve(found);
  }
  present(entries: string[]): Promise<Set<string>> {
    this.asked.push('present');
    return this.faults.present
      ? Promise.reject(new SourceError(this.faults.present, 'told to fail'))
      : Promise.resolve(
          new Set(
            entries.filter(
              (entry) => entry in this.faults || this.varbinds.some(({ oid }) => oid.startsWith(`${entry}.`)),
            ),
          ),
        );
  }
  inContext(name: string): VarbindSource | null {
    return this.contexts[name] ?? null;
  }
  close(): void {}
}

const system: SystemGroup = {
  description: 'Kestrane K-Ring 12, release 7.4.9',
  objectId: '1.3.6.1.4.1.59101.1.12',
  uptimeSeconds: 1,
  contact: '',
  name: 'mlr-ring',
  location: '',
  services: 2,
  engineId: null,
};
const generic: Signature = { id: 'generic', order: 1000, match: {}, vendor: '', role: 'unknown' };
const ring: Signature = {
  id: 'ring',
  order: 1,
  match: { objectId: '1.3.6.1.4.1.59101.1.12' },
  vendor: 'Kestrane',
  role: 'switch',
  objects: {
    memoryBytes: { oid: '1.3.6.1.4.1.59101.2.1.1.0', multiplyBy: 1_048_576 },
    bootRelease: { oid: '1.3.6.1.4.1.59101.2.1.4.0' },
  },
};
const port: Varbind[] = [
  { oid: `${ifDescr}.1.1`, value: { type: 'integer', value: 1 } },
  { oid: `${ifDescr}.2.1`, value: octets('1') },
  { oid: `${ifDescr}.3.1`, value: { type: 'integer', value: 6 } },
];
const read = (source: VarbindSource, more: Partial<Parameters<typeof readDevice>[2]> = {}) => {
  let now = 0;
  return readDevice(source, system, {
    address: '10.72.9.1',
    credential: 'v3',
    signatures: [generic, ring],
    inFlight: 1,
    now: () => (now += 1000),
    cancelled: () => false,
    ...more,
  });
};

describe('reading a device', () => {
  test('each part is whole when its end was seen, also where the agent has none of it', async () => {
    const harvest = await read(new ScriptedSource(port));
    expect(Object.values(harvest.parts).map(({ state }) => state)).toEqual(Array(20).fill('whole'));
    expect(harvest).toMatchObject({
      signature: 'ring',
      interfaces: [{ name: '1' }],
      modules: [],
      bridge: null,
      lldp: null,
    });
  });
  test('who is no bridge is not asked for forwarding tables', async () => {
    const silent = new ScriptedSource(port);
    await read(silent);
    const bridging = new ScriptedSource([
      ...port,
      { oid: bridgeAddress, value: { type: 'octets', value: new Uint8Array([2, 0x4b, 0x45, 0, 0, 1]) } },
    ]);
    await read(bridging);
    const forwarding: Varbind[] = [
      { oid: '1.3.6.1.2.1.17.7.1.2.2.1.2.1.2.75.69.0.0.9', value: { type: 'integer', value: 1 } },
    ];
    const both = new ScriptedSource([
      ...bridging.varbinds,
      ...forwarding,
      { oid: '1.3.6.1.2.1.17.4.3.1.2.2.75.69.0.0.9', value: { type: 'integer', value: 1 } },
    ]);
    await read(both);
    const old = new ScriptedSource([
      ...bridging.varbinds,
      { oid: '1.3.6.1.2.1.17.4.3.1.2.2.75.69.0.0.9', value: { type: 'integer', value: 1 } },
    ]);
    await read(old);
    const tables = (source: ScriptedSource) =>
      source.asked.filter((oid) => oid === '1.3.6.1.2.1.17.7.1.2.2.1' || oid === '1.3.6.1.2.1.17.4.3.1');
    // who has the table by VLAN is not asked for the other, which says less
    expect([silent, bridging, both, old].map(tables)).toEqual([
      [],
      [],
      ['1.3.6.1.2.1.17.7.1.2.2.1'],
      ['1.3.6.1.2.1.17.4.3.1'],
    ]);
  });
  test('the extra facts of a signature are read with their units; text stays text', async () => {
    const harvest = await read(
      new ScriptedSource([
        { oid: '1.3.6.1.4.1.59101.2.1.1.0', value: { type: 'gauge32', value: 512 } },
        { oid: '1.3.6.1.4.1.59101.2.1.4.0', value: octets('2.4') },
      ]),
    );
    expect(harvest.private).toEqual({ memoryBytes: 512 * 1024 ** 2, bootRelease: '2.4' });
  });
  test('readings are numbers in their units, also where the agent writes them as text; what is no number is left out', async () => {
    const measuring: Signature = {
      ...ring,
      readings: [
        { name: 'Load', oid: '1.3.6.1.4.1.59101.2.1.8.0', unit: '%', multiplyBy: 0.1, above: 80 },
        { name: 'Light', oid: '1.3.6.1.4.1.59101.2.1.9.0', unit: 'dBm' },
        { name: 'Words', oid: '1.3.6.1.4.1.59101.2.1.10.0' },
        { name: 'Absent', oid: '1.3.6.1.4.1.59101.2.1.11.0' },
      ],
    };
    const harvest = await read(
      new ScriptedSource([
        { oid: '1.3.6.1.4.1.59101.2.1.8.0', value: { type: 'gauge32', value: 123 } },
        { oid: '1.3.6.1.4.1.59101.2.1.9.0', value: octets('-7.25 dBm') },
        { oid: '1.3.6.1.4.1.59101.2.1.10.0', value: octets('good') },
      ]),
      { signatures: [generic, measuring] },
    );
    expect(harvest.readings).toEqual([
      { name: 'Load', value: 12.3, unit: '%', above: 80 },
      { name: 'Light', value: -7.25, unit: 'dBm' },
    ]);
  });
  test('a part that breaks off is failed, keeps what it gave, and the others go on', async () => {
    const harvest = await read(new ScriptedSource(port, { [entPhysical]: 'misbehaving' }));
    expect(harvest.parts.modules).toMatchObject({ state: 'failed', reason: 'told to fail' });
    expect(harvest.parts.interfaces).toMatchObject({ state: 'whole' });
    const half = await read(new ScriptedSource(port, { [ifDescr]: 'no answer' }));
    expect(half.parts.interfaces).toMatchObject({ state: 'failed', reason: 'the device stopped answering' });
    expect(half.interfaces).toHaveLength(1);
  });
  test('after two silences nothing more is asked, and every part says so', async () => {
    const source = new ScriptedSource(port, { [ifDescr]: 'no answer', [entPhysical]: 'no answer' });
    const harvest = await read(source);
    const failed = Object.entries(harvest.parts).filter(([, { state }]) => state === 'failed');
    expect(failed.map(([, state]) => 'reason' in state && state.reason)).toEqual(
      expect.arrayContaining(['not asked: the device had stopped answering']),
    );
    expect(source.asked.filter((oid) => oid.startsWith('1.0.8802.1.1.2.1.4'))).toEqual([]);
  });
  test('an agent that cannot say which tables it has is asked for each, one that names none only for what counts', async () => {
    const mute = new ScriptedSource(port, { present: 'misbehaving' });
    expect(await read(mute)).toMatchObject({ interfaces: [{ name: '1' }], parts: { modules: { state: 'whole' } } });
    const telling = new ScriptedSource(port);
    await read(telling);
    const asked = (source: ScriptedSource) =>
      source.asked.filter((oid) => !oid.endsWith('.0') && oid !== 'present').length;
    expect([asked(mute) > 30, asked(telling)]).toEqual([true, 1]);
  });
  test('virtual routers are asked in their own contexts, VLANs in theirs; a part of one that breaks off is told', async () => {
    const inside = (address: string) => [
      { oid: `1.3.6.1.2.1.4.20.1.2.${address}`, value: { type: 'integer' as const, value: 1 } },
      { oid: `1.3.6.1.2.1.4.20.1.3.${address}`, value: { type: 'ipAddress' as const, value: '255.255.255.252' } },
    ];
    const logical: Signature = { ...ring, contexts: { of: 'logical entities' } };
    const listed: Varbind[] = [
      { oid: '1.3.6.1.2.1.47.1.2.1.1.8.1', value: octets('ticketing') },
      { oid: '1.3.6.1.2.1.47.1.2.1.1.8.2', value: octets('') },
    ];
    const whole = await read(
      new ScriptedSource([...port, ...listed], {}, { ticketing: new ScriptedSource(inside('10.72.90.1')) }),
      { signatures: [generic, logical] },
    );
    expect(whole).toMatchObject({
      contexts: [{ context: 'ticketing', addresses: [{ address: '10.72.90.1', prefixLength: 30 }] }],
      parts: { contexts: { state: 'whole' } },
    });
    const broken = await read(
      new ScriptedSource(
        [...port, ...listed],
        {},
        { ticketing: new ScriptedSource([], { '1.3.6.1.2.1.4.20.1': 'misbehaving' }) },
      ),
      { signatures: [generic, logical] },
    );
    expect(broken.parts.contexts).toMatchObject({ state: 'failed', reason: 'context ticketing: told to fail' });
    const byVlan: Signature = { ...ring, contexts: { of: 'vlans', name: 'vlan-{vlan}' } };
    const bridge: Varbind[] = [
      { oid: bridgeAddress, value: { type: 'octets', value: new Uint8Array([2, 0x4b, 0x45, 0, 0, 1]) } },
      { oid: '1.3.6.1.2.1.17.7.1.4.3.1.1.30', value: octets('CCTV') },
    ];
    const table: Varbind[] = [
      { oid: '1.3.6.1.2.1.17.1.4.1.2.7', value: { type: 'integer', value: 1 } },
      { oid: '1.3.6.1.2.1.17.4.3.1.2.2.67.65.0.0.9', value: { type: 'integer', value: 7 } },
      { oid: '1.3.6.1.2.1.17.4.3.1.3.2.67.65.0.0.9', value: { type: 'integer', value: 3 } },
    ];
    const vlans = await read(new ScriptedSource([...port, ...bridge], {}, { 'vlan-30': new ScriptedSource(table) }), {
      signatures: [generic, byVlan],
    });
    expect(vlans.contexts).toMatchObject([{ forwarding: [{ mac: '02:43:41:00:00:09', bridgePort: 7, vlan: 30 }] }]);
  });
  test('a cancelled survey asks nothing more', async () => {
    const source = new ScriptedSource(port);
    const harvest = await read(source, { cancelled: () => true });
    expect(source.asked).toEqual([]);
    expect(harvest.parts.interfaces).toMatchObject({ state: 'failed', reason: 'not asked: the survey was cancelled' });
  });
  test('bugs are not faults of the device', async () => {
    const source = new ScriptedSource(port);
    source.columns = () => Promise.reject(new TypeError('a bug'));
    await expect(read(source)).rejects.toThrow('a bug');
  });
});

test('the first question asks the system group; nothing in it is nobody', async () => {
  expect(await readSystem(new ScriptedSource([]))).toBeNull();
  expect(
    await readSystem(
      new ScriptedSource([
        { oid: '1.3.6.1.2.1.1.5.0', value: octets('mlr-ring') },
        { oid: '1.3.6.1.2.1.1.1.0', value: octets('ring switch') },
      ]),
    ),
  ).toMatchObject({ name: 'mlr-ring', description: 'ring switch' });
});

describe('work side by side', () => {
  test('never more than the width, every item once', async () => {
    let now = 0;
    let most = 0;
    const done: number[] = [];
    await inParallel([1, 2, 3, 4, 5, 6, 7], 3, async (item) => {
      most = Math.max(most, ++now);
      await new Promise((resolve) => setTimeout(resolve, 2));
      now--;
      done.push(item);
    });
    expect([most, done.sort()]).toEqual([3, [1, 2, 3, 4, 5, 6, 7]]);
  });
  test('an empty list is done at once, and a failure is told', async () => {
    await inParallel([], 5, () => Promise.reject(new Error('never')));
    await expect(inParallel([1], 5, () => Promise.reject(new Error('once')))).rejects.toThrow('once');
  });
});

test('a signature that is known by the chassis alone has its own objects read, and they count', async () => {
  const memory = '1.3.6.1.4.1.59101.2.1.1.0';
  const late: Signature = {
    id: 'late',
    order: 0,
    match: { chassisModel: '^KR12$', manufacturer: 'kestrane' },
    vendor: 'Kestrane',
    role: 'switch',
    objects: { memoryBytes: { oid: memory } },
    readings: [{ name: 'load', oid: '1.3.6.1.4.1.59101.2.1.9.0', unit: '%' }],
  };
  const chassis: Varbind[] = [
    [5, 3],
    [16, 1],
  ].map(([column, value]) => ({
    oid: `${entPhysical}.${column}.1`,
    value: { type: 'integer' as const, value: value ?? 0 },
  }));
  const named: Varbind[] = [
    [12, 'Kestrane'],
    [13, 'KR12'],
  ].map(([column, text]) => ({ oid: `${entPhysical}.${column}.1`, value: octets(String(text)) }));
  const own: Varbind[] = [
    { oid: memory, value: { type: 'integer', value: 512 } },
    { oid: '1.3.6.1.4.1.59101.2.1.9.0', value: { type: 'gauge32', value: 12 } },
  ];
  const source = new ScriptedSource([...port, ...chassis, ...named, ...own]);
  const harvest = await read(source, {
    signatures: [generic, late],
    readings: [
      { name: 'ports', oid: `${ifDescr}.1.1` },
      { name: 'elsewhere', resource: '/redfish/v1/Chassis/1#/X' },
    ],
  });
  expect(harvest).toMatchObject({
    signature: 'late',
    private: { memoryBytes: 512 },
    readings: [
      { name: 'load', value: 12, unit: '%' },
      { name: 'ports', value: 1, unit: '' },
    ],
  });
  expect(harvest.parts.private).toMatchObject({ state: 'whole' });
});

test('routes that are too many to be anybody’s inventory are counted, not dropped in silence', async () => {
  const count = '1.3.6.1.2.1.4.24.6.0';
  const harvest = await read(new ScriptedSource([...port, { oid: count, value: { type: 'gauge32', value: 950_000 } }]));
  expect(harvest).toMatchObject({ routes: [], routesLeft: 950_000 });
  expect(
    (await read(new ScriptedSource([...port, { oid: count, value: { type: 'gauge32', value: 12 } }]))).routesLeft,
  ).toBeUndefined();
});

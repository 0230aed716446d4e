import { describe, expect, test } from '@jest/globals';
import type { SystemGroup } from '../core/mib/system';
import type { Varbind } from '../core/mib/varbind';
import type { Signature } from '../core/signatures/signature';
import { inParallel, readDevice, readSystem } from './readDevice';
import { SourceError, type SourceFault, type VarbindSource } from './source';

const octets = (text: string) => ({ type: 'octets' as const, value: new TextEncoder().encode(text) });
const ifDescr = '1.3.6.1.2.1.2.2.1';
const entPhysical = '1.3.6.1.2.1.47.1.1.1.1';
const bridgeAddress = '1.3.6.1.2.1.17.1.1.0';

/** A source that answers from a list, breaks where told, and remembers what it was asked. */
class ScriptedSource implements VarbindSource {
  readonly asked: string[] = [];
  constructor(readonly varbinds: Varbind[], readonly faults: Record<string, SourceFault> = {}) {}
  get(oids: string[]): Promise<Varbind[]> {
    this.asked.push(...oids);
    const fault = oids.map((oid) => this.faults[oid]).find(Boolean);
    if (fault) return Promise.reject(new SourceError(fault, 'told to fail'));
    return Promise.resolve(this.varbinds.filter(({ oid }) => oids.includes(oid)));
  }
  columns(entry: string, columns: readonly number[]): Promise<Varbind[]> {
    this.asked.push(entry);
    const found = this.varbinds.filter(({ oid }) => columns.some((column) => oid.startsWith(`${entry}.${column}.`)));
    const fault = this.faults[entry];
    if (fault) return Promise.reject(new SourceError(fault, 'told to fail', found));
    return Promise.resolve(found);
  }
  close(): void {}
}

const system: SystemGroup = { description: 'Kestrane K-Ring 12, release 7.4.9', objectId: '1.3.6.1.4.1.59101.1.12', uptimeSeconds: 1, contact: '', name: 'mlr-ring', location: '', services: 2, engineId: null };
const generic: Signature = { id: 'generic', order: 1000, match: {}, vendor: '', role: 'unknown' };
const ring: Signature = { id: 'ring', order: 1, match: { objectId: '1.3.6.1.4.1.59101.1.12' }, vendor: 'Kestrane', role: 'switch', objects: { memoryBytes: { oid: '1.3.6.1.4.1.59101.2.1.1.0', multiplyBy: 1_048_576 }, bootRelease: { oid: '1.3.6.1.4.1.59101.2.1.4.0' } } };
const port: Varbind[] = [
  { oid: `${ifDescr}.1.1`, value: { type: 'integer', value: 1 } }, { oid: `${ifDescr}.2.1`, value: octets('1') }, { oid: `${ifDescr}.3.1`, value: { type: 'integer', value: 6 } },
];
const read = (source: VarbindSource, more: Partial<Parameters<typeof readDevice>[2]> = {}) => {
  let now = 0;
  return readDevice(source, system, { address: '10.72.9.1', credential: 'v3', signatures: [generic, ring], inFlight: 1, now: () => (now += 1000), cancelled: () => false, ...more });
};

describe('reading a device', () => {
  test('each part is whole when its end was seen, also where the agent has none of it', async () => {
    const harvest = await read(new ScriptedSource(port));
    expect(Object.values(harvest.parts).map(({ state }) => state)).toEqual(Array(10).fill('whole'));
    expect(harvest).toMatchObject({ signature: 'ring', interfaces: [{ name: '1' }], modules: [], bridge: null, lldp: null });
  });
  test('who is no bridge is not asked for forwarding tables', async () => {
    const silent = new ScriptedSource(port);
    await read(silent);
    const bridging = new ScriptedSource([...port, { oid: bridgeAddress, value: { type: 'octets', value: new Uint8Array([2, 0x4b, 0x45, 0, 0, 1]) } }]);
    await read(bridging);
    const tables = (source: ScriptedSource) => source.asked.filter((oid) => oid.startsWith('1.3.6.1.2.1.17.7')).length;
    expect(tables(silent)).toBeLessThan(tables(bridging));
  });
  test('the extra facts of a signature are read with their units; text stays text', async () => {
    const harvest = await read(new ScriptedSource([{ oid: '1.3.6.1.4.1.59101.2.1.1.0', value: { type: 'gauge32', value: 512 } }, { oid: '1.3.6.1.4.1.59101.2.1.4.0', value: octets('2.4') }]));
    expect(harvest.private).toEqual({ memoryBytes: 512 * 1024 ** 2, bootRelease: '2.4' });
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
    expect(failed.map(([, state]) => 'reason' in state && state.reason)).toEqual(expect.arrayContaining(['not asked: the device had stopped answering']));
    expect(source.asked.filter((oid) => oid.startsWith('1.0.8802'))).toEqual([]);
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
  expect(await readSystem(new ScriptedSource([{ oid: '1.3.6.1.2.1.1.5.0', value: octets('mlr-ring') }, { oid: '1.3.6.1.2.1.1.1.0', value: octets('ring switch') }]))).toMatchObject({ name: 'mlr-ring', description: 'ring switch' });
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

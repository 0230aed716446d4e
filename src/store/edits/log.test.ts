import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { completeRelease } from '../../core/firmware/catalogue';
import { completeTarget } from '../../core/firmware/target';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Check } from '../../core/checks/check';
import type { Contract } from '../../core/cover/contract';
import { scopeDefaults } from '../../core/estate/scope';
import type { EstateGroup } from '../../core/groups/group';
import { listActs } from '../audit';
import { openStore, type Store } from '../base/database';
import { openCredentials, saveCredential } from '../credentials';
import { addPerson } from '../people';
import { contractEdits } from './contracts';
import { credentialEdits } from './credentials';
import { EditRefused, type Editable } from './editable';
import { editables } from './editables';
import { groupEdits } from './groups';
import { editHistory, editVersion, StaleEditError, writeEdit } from './log';
import { recentEdits } from './recent';
import { scopeEdits } from './scopes';
import { targetEdits } from './targets';
import { undoEdit } from './undo';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-edits-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const contract = (number: string, more: Partial<Contract> = {}): Contract => ({
  number,
  kind: 'contract',
  supplier: '',
  level: '',
  contact: '',
  from: null,
  until: null,
  parts: true,
  note: '',
  serials: ['A1'],
  ...more,
});
const group = (name: string, more: Partial<EstateGroup> = {}): EstateGroup => ({
  name,
  thing: 'devices',
  kind: 'filter',
  where: 'role=switch',
  members: [],
  within: null,
  note: '',
  ...more,
});
const write = <Value>(
  editable: Editable<Value>,
  key: string | null,
  after: Value | null,
  more: { who?: string; seen?: number; field?: string } = {},
) => {
  const { who = 'osric', seen = null, field = '' } = more;
  const before = key === null ? null : editable.read(store.db, key, field);
  return writeEdit(store.db, editable, {
    ...{ who, seen, act: `wrote of ${editable.many}`, words: 'a trial' },
    changes: [{ key, field, before, after }],
  });
};
const undo = (edit: number) => undoEdit(store.db, editables, edit, 'wenna');

describe('whoever has not seen what somebody else wrote', () => {
  test('is told of it, both values side by side, and nothing is written; once it is seen it can be written over', () => {
    const { keys } = write(contractEdits, null, contract('KS-1'));
    const key = keys[0] ?? '';
    const seen = editVersion(store.db);
    write(contractEdits, key, contract('KS-1', { note: 'of the first' }), { who: 'wenna', seen });
    const second = () => write(contractEdits, key, contract('KS-1', { contact: 'desk' }), { who: 'osric', seen });
    expect(second).toThrow(StaleEditError);
    try {
      second();
    } catch (error) {
      const { stale, version, message } = error as StaleEditError;
      expect(message).toContain('changed meanwhile by wenna');
      expect(stale).toMatchObject([
        { key, mine: { contact: 'desk', note: '' }, now: { contact: '', note: 'of the first' }, who: 'wenna' },
      ]);
      expect(version).toBe(editVersion(store.db));
      write(contractEdits, key, contract('KS-1', { contact: 'desk' }), { seen: version });
    }
    expect(contractEdits.read(store.db, key, '')).toMatchObject({ contact: 'desk', note: '' });
  });
  test('is told that it is gone, or that it is there again; what both wrote alike stands in nobody’s way', () => {
    const key = write(contractEdits, null, contract('KS-1')).keys[0] ?? '';
    const seen = editVersion(store.db);
    write(contractEdits, key, contract('KS-1', { note: 'x' }), { who: 'wenna', seen });
    write(contractEdits, key, contract('KS-1', { note: 'x' }), { seen });
    const gone = write(contractEdits, key, null, { who: 'wenna' });
    expect(() =>
      writeEdit(store.db, contractEdits, {
        ...{ who: 'osric', act: 'wrote', words: 'x', seen },
        changes: [{ key, before: contract('KS-1', { note: 'x' }), after: contract('KS-1', { note: 'y' }) }],
      }),
    ).toThrow(StaleEditError);
    undo(gone.edit);
    expect(contractEdits.read(store.db, key, '')?.note).toBe('x');
  });
  test('is not kept from writing another thing of the kind', () => {
    const [one, other] = ['KS-1', 'KS-2'].map((number) => write(contractEdits, null, contract(number)).keys[0] ?? '');
    const seen = editVersion(store.db);
    write(contractEdits, one ?? '', contract('KS-1', { note: 'x' }), { who: 'wenna' });
    write(contractEdits, other ?? '', contract('KS-2', { note: 'y' }), { seen });
    expect(contractEdits.read(store.db, other ?? '', '')?.note).toBe('y');
  });
});

test('an edit is on record with what it wrote, or neither is there', () => {
  const acts = () => listActs(store.db, { text: '', before: null, most: 9 }).rows.map(({ act }) => act);
  write(contractEdits, null, contract('KS-1'));
  expect(acts()).toEqual(['wrote of contracts']);
  // whatever fails last takes all of it away
  store.db.$client.exec("create trigger no_acts before insert on audit begin select raise(abort, 'full'); end");
  expect(() => write(contractEdits, null, contract('KS-2'))).toThrow('full');
  store.db.$client.exec('drop trigger no_acts');
  expect(store.db.$client.prepare('select number from contract').all()).toEqual([{ number: 'KS-1' }]);
  expect([acts(), recentEdits(store.db, { kinds: ['contracts'], most: 9 }).rows]).toEqual([
    ['wrote of contracts'],
    [expect.anything()],
  ]);
});

/** One value of each kind of thing that people write, and another it becomes. */
async function samples(): Promise<Record<string, { value: unknown; changed: unknown; key?: string; field?: string }>> {
  const { id: personId } = await addPerson(store.db, 'osric', 'harbour-depot-7', 'viewer');
  const check: Check = {
    ...{ key: 'own-1', name: 'no old switches', thing: 'devices', where: 'role=switch uptimeSeconds>900d' },
    ...{ scope: '', severity: 'minor', why: '', remedy: '', on: true },
  };
  const scope = { ...scopeDefaults, name: 'north', ranges: ['10.72.4.0/24'] };
  const view = { personId, name: 'mine', path: '/estate', query: 'of=ports', shared: false, savedAt: '2026-11-23' };
  const target = completeTarget({
    ...{ vendor: 'Kestrane', family: 'K-Ring', release: '7.4.9', setBy: 'osric', setAt: '' },
  });
  const time = { where: 'site=RPW', reason: 'supplies', from: '2026-11-28T22:00:00.000Z', until: null, by: 'osric' };
  const outlet = { site: 'RPW', label: 'R-01', room: '', panel: '', position: '', port: null, note: '' };
  const release = completeRelease({
    vendor: 'Kestrane',
    family: 'K-Day',
    release: '9.9.1',
    published: '2026-11-01',
  });
  const rule = {
    id: 'fares',
    order: 20,
    name: 'Fares',
    kind: 'web',
    publisher: '',
    category: '',
    match: { path: 'f' },
  };
  const work = {
    ...{ kind: 'planned work', title: 'Supplies at RPW', who: 'osric', from: '2026-11-28T22:00:00.000Z', until: null },
    ...{ things: ['device:12'], note: '', source: '', number: '' },
  };
  const application = {
    ...{ name: 'Ticketing', owner: 'osric', criticality: 'vital', contacts: [], note: '', needed: [] },
    rules: [{ member: { kind: 'device', deviceId: 12 }, verdict: 'in' }],
  };
  const field = { thing: 'devices', name: 'rack', label: 'Rack', kind: 'text', choices: [] };
  const of = <Value extends object>(value: Value, change: Partial<Value>) => ({
    value,
    changed: { ...value, ...change },
  });
  return {
    contracts: of(contract('KS-1'), { note: 'x' }),
    outlets: of(outlet, { room: 'Kiosk' }),
    devices: { value: 'Osric', changed: 'Wenna', key: '12', field: 'owner' },
    ports: { value: ['a'], changed: ['a', 'b'], key: '12:3/1', field: 'tags' },
    endpoints: { value: 'x', changed: 'y', key: '02:00:5e:00:00:01', field: 'notes' },
    fields: of(field, { label: 'Rack and unit' }),
    groups: of(group('Stops'), { note: 'x' }),
    maintenance: of(time, { reason: 'new supplies' }),
    checks: of(check, { severity: 'severe' }),
    scopes: of(scope, { retries: 3 }),
    targets: { ...of(target, { release: '7.4.12b' }), key: 'Kestrane\tK-Ring\t' },
    views: of(view, { query: 'of=modules' }),
    releases: of(release, { published: '2026-11-02' }),
    advisories: of(
      {
        ...{ number: 'KS-2026-04', publisher: 'Kestrane', title: 'A frame stops it', published: '2026-09-01' },
        ...{ updated: '2026-09-01', severity: 'high', score: 8.1, summary: '', others: [], remedy: '' },
        ...{ format: 'OSV', affects: [] },
      },
      { severity: 'critical' },
    ),
    makers: { value: 'Kestrane', changed: 'Kestrane Ltd', key: '024b45' },
    serviceRules: { ...of(rule, { order: 30 }), key: 'fares' },
    applications: of(application, { note: 'x' }),
    works: of(work, { note: 'x' }),
    saidNeeds: of(
      { of: 'device:12', from: ['device:3'], atLeast: 1, kind: 'stated', note: 'x', reviewOn: null, by: 'Osric' },
      { note: 'y' },
    ),
    deviceSites: { value: 'RPW', changed: 'HDP', key: '12' },
  };
}

test('whatever people write can be taken back: what is new, what was changed, what was deleted', async () => {
  const all = await samples();
  for (const editable of editables) {
    // credentials have a test of their own; the list of rules is there from the beginning, and empty
    if (editable.kind === 'credentials' || editable.kind === 'siteRules') continue;
    const sample = all[editable.kind];
    if (!sample) throw new Error(`nothing is tried of ${editable.kind}`);
    const { value, changed, key: given = null, field = '' } = sample;
    const more = { field };
    const made = write(editable, given, value, more);
    const key = made.keys[0] ?? '';
    const now = () => editable.read(store.db, key, field);
    expect([editable.kind, now()]).toEqual([editable.kind, value]);
    const change = write(editable, key, changed, more);
    expect(now()).toEqual(changed);
    expect(undo(change.edit)).toMatchObject({ back: 1, stay: 0 });
    expect(now()).toEqual(value);
    const gone = write(editable, key, null, more);
    expect(now()).toBeNull();
    undo(gone.edit);
    expect([editable.kind, now()]).toEqual([editable.kind, value]);
    expect(undo(made.edit)).toMatchObject({ back: 1 });
    expect([editable.kind, now(), undo(made.edit)]).toEqual([editable.kind, null, null]);
    expect(editHistory(store.db, editable.kind, key).length).toBe(6);
    expect(editable.called(value as never, key, field)).not.toBe('');
  }
});

test('a credential’s secret is in no log: a deletion is taken back while it is still there, a new secret is not', () => {
  const approved = { prefixes: ['10.72.0.0/16'], ports: [161] };
  const credential = { name: 'north', kind: 'snmp2c' as const, community: 'not-to-be-seen', approved };
  const editable = credentialEdits();
  const key = String(saveCredential(store, credential));
  const gone = write(editable, key, null);
  expect(openCredentials(store, ['north'])).toEqual([]);
  undo(gone.edit);
  expect(openCredentials(store, ['north'])).toEqual([credential]);
  const entered = credentialEdits({ store, credential: { ...credential, community: 'another' } });
  const { edit } = write(entered, key, { name: 'north', kind: 'snmp2c', approved });
  expect(() => undo(edit)).toThrow('enter it anew');
  // where it may be sent is changed and taken back without its secret
  const told = editable.read(store.db, key, '') ?? { name: '', kind: 'snmp2c' as const };
  const moved = write(editable, key, { ...told, approved: { prefixes: [], ports: [] } });
  expect(openCredentials(store, ['north'])).toMatchObject([{ community: 'another', approved: { prefixes: [] } }]);
  undo(moved.edit);
  expect(openCredentials(store, ['north'])).toMatchObject([{ community: 'another', approved }]);
  const later = write(editable, key, null);
  store.db.$client.exec('delete from credential');
  expect(() => undo(later.edit)).toThrow('wiped');
  const log = JSON.stringify(store.db.$client.prepare('select * from edit_change').all());
  expect(log).not.toContain('not-to-be-seen');
});

test('what something is built on cannot go, by undoing either', () => {
  const made = write(groupEdits, null, group('Stops'));
  const told = { vendor: 'Kestrane', family: 'K-Ring', release: '7.4.9', group: 'Stops', setBy: 'osric', setAt: '' };
  const target = completeTarget(told);
  write(targetEdits, null, target);
  expect(() => write(groupEdits, made.keys[0] ?? '', null)).toThrow('targets are set for it (K-Ring 7.4.9)');
  expect(() => undo(made.edit)).toThrow(EditRefused);
  const scope = { ...scopeDefaults, name: 'north', credentials: ['gone'] };
  expect(() => write(scopeEdits, null, scope)).toThrow('There is no credential “gone” any more');
  expect(groupEdits.read(store.db, made.keys[0] ?? '', '')).not.toBeNull();
});

import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { dayAfter } from '../../core/values/day';
import { writeDemoContracts } from '../../cli/demoContracts';
import { contractAlone, readContracts } from '../../store/contracts';
import { contractEdits } from '../../store/edits/contracts';
import type { EditChange } from '../../core/edits/edit';
import { EditRefused, type Editable } from '../../store/edits/editable';
import { editables } from '../../store/edits/editables';
import { StaleEditError, writeEdit } from '../../store/edits/log';
import { recentEdits } from '../../store/edits/recent';
import { undoEdit } from '../../store/edits/undo';
import { readJudgements } from '../../store/checks';
import { judgeNow } from '../checks/keepJudging';
import { contractImport } from './contractImport';
import { readCsv } from '../imports/csvFile';
import { deviceDossier } from '../estate/dossier';
import { queryThing, type MarkedRow } from '../query/query';
import { thingDossier } from '../estate/thingDossier';
import { today } from '../estate/today';

let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 8] });
});
afterAll(() => sample.close());

const day = (days: number) => dayAfter(new Date().toISOString().slice(0, 10), days);
const ask = (thing: Parameters<typeof queryThing>[1], where: string, survey = 2): MarkedRow[] =>
  queryThing(sample.store, thing, { survey, against: null, where, sort: [], page: 1, size: 1000 }).rows;
const only = (thing: Parameters<typeof queryThing>[1], where: string, survey = 2): MarkedRow => {
  const [row, more] = ask(thing, where, survey);
  if (!row || more) throw new Error(`${where} is not one of ${thing}`);
  return row;
};
const plan = (...lines: string[]) => {
  const { head, lines: rows } = readCsv(['number,kind,supplier,until,serial,from', ...lines].join('\n'));
  return contractImport.plan(sample.store, 2, head, rows, 'a file');
};
const take = (...lines: string[]): number => {
  const { told, changes } = plan(...lines);
  expect(told.mistakes).toEqual([]);
  return write(changes).edit;
};
const write = (changes: EditChange[]) =>
  writeEdit(sample.store.db, contractEdits as Editable<unknown>, {
    who: 'marla',
    act: 'wrote',
    words: 'a file',
    changes,
  });
const undo = (edit: number) => undoEdit(sample.store.db, editables, edit, 'marla');

test('the sample’s contracts: two end within thirty days, cover of a core’s supply has ended, switches that were swapped or came new have none', () => {
  writeDemoContracts(sample.store, 'duty engineer', day(0));
  expect(ask('contracts', 'state=ending uncovered>0').map(({ number }) => number)).toEqual(['BW-70118', 'TS-5-1190']);
  expect(ask('contracts', 'state=ended uncovered>0').map(({ devices }) => devices)).toEqual([['sgh-core-1']]);
  expect(ask('devices', 'role=switch vendor=Kestrane cover=none').map(({ name }) => name)).toEqual([
    'rpw-plat',
    'tme-plat',
  ]);
  expect(undo(recentEdits(sample.store.db, { kinds: ['contracts'], most: 1 }).rows[0]?.id ?? 0)).toMatchObject({
    stay: 0,
  });
});

describe('contracts', () => {
  test('cover devices, what these hold, and serials; what is named itself goes by what names it', () => {
    const chassis = only('devices', 'name=sgh-core-1').serial;
    const supply = only('modules', 'device=sgh-core-1 class=powerSupply name="Supply 2"').serial;
    const { told } = plan(
      `KS-1,contract,Kestrane Service,${day(400)},${String(chassis)} NOT-SEEN,`,
      `KS-2,warranty,Kestrane Service,${day(-46)},${String(supply)},`,
    );
    expect([told.named, told.added, told.notes]).toEqual([
      2,
      2,
      [expect.stringContaining('1 serial no survey has seen: NOT-SEEN')],
    ]);
    expect(readContracts(sample.store.db)).toEqual([]);
    take(
      `KS-1,contract,Kestrane Service,${day(400)},${String(chassis).toLowerCase()} NOT-SEEN,`,
      `KS-2,warranty,Kestrane Service,${day(-46)},${String(supply)},`,
    );
    expect(only('devices', 'name=sgh-core-1')).toMatchObject({
      cover: 'covered',
      coverUntil: day(400),
      coveredBy: ['KS-1'],
    });
    expect(only('modules', 'device=sgh-core-1 class=powerSupply name="Supply 1"')).toMatchObject({
      cover: 'covered',
      coveredBy: ['KS-1'],
    });
    expect(ask('modules', 'cover=ended').map(({ serial }) => serial)).toEqual([supply]);
    expect(ask('devices', 'cover=covered').map(({ name }) => name)).toEqual(['sgh-core-1']);
    // what has no serial is neither covered nor without cover
    expect(ask('modules', 'serial="" cover!=""')).toEqual([]);
    expect(only('ledger', `serial=${String(supply)}`)).toMatchObject({
      cover: 'ended',
      coverUntil: day(-46),
      coveredBy: ['KS-2'],
    });
    expect(ask('contracts', '')).toMatchObject([
      {
        number: 'KS-1',
        state: 'covered',
        daysLeft: 400,
        serialCount: 2,
        inService: 1,
        uncovered: 0,
        devices: ['sgh-core-1'],
        notInService: ['NOT-SEEN'],
      },
      { number: 'KS-2', state: 'ended', daysLeft: -46, inService: 1, uncovered: 1, devices: ['sgh-core-1'] },
    ]);
    const dossier = deviceDossier(sample.store, String(only('devices', 'name=sgh-core-1').id), 2);
    expect(dossier?.cover).toMatchObject({
      units: [
        { serial: chassis, state: 'covered', daysLeft: 400, by: [{ number: 'KS-1', supplier: 'Kestrane Service' }] },
      ],
      parts: [{ serial: supply, what: 'Supply 2', state: 'ended', daysLeft: -46 }],
    });
  });
  test('of a switch that was swapped cover the old one only: at the survey before it was covered', () => {
    const old = only('devices', 'name=rpw-plat', 1).serial;
    take(`KS-3,contract,Kestrane Service,${day(90)},${String(old)},2020-01-01`);
    expect([only('devices', 'name=rpw-plat', 1), only('devices', 'name=rpw-plat')]).toMatchObject([
      { cover: 'covered' },
      { cover: 'none', coverUntil: '', coveredBy: [] },
    ]);
    expect(only('ledger', `serial=${String(old)}`)).toMatchObject({ state: 'gone', coveredBy: ['KS-3'] });
    expect([only('contracts', 'number=KS-3', 1).inService, only('contracts', 'number=KS-3').inService]).toEqual([1, 0]);
  });
  test('that end within thirty days, or have ended, are told by checks and Today until something follows them', async () => {
    const ring = only('devices', 'name=rpw-ring').serial;
    const covers = () =>
      today(sample.store, 2, null).attention.flatMap(({ kind, words, href }) =>
        kind === 'cover' ? [[words, href]] : [],
      );
    const standing = async () => {
      await judgeNow(sample.store);
      return Object.fromEntries(
        readJudgements(sample.store.db, 2)
          .filter(({ key }) => key.startsWith('cover-'))
          .map(({ key, failing }) => [key, failing]),
      );
    };
    expect(await standing()).toEqual({ 'cover-ends': 0, 'cover-ended': 1 });
    const before = readJudgements(sample.store.db, 1);
    expect(before.length).toBeGreaterThan(20);
    take(`KS-4,contract,,${day(12)},${String(ring)},`);
    expect(await standing()).toEqual({ 'cover-ends': 1, 'cover-ended': 1 });
    expect(covers()).toEqual([
      [
        'KS-2 of Kestrane Service ended 46 days ago: one serial in sgh-core-1 is without cover',
        expect.stringMatching(/^\/estate\?of=contracts&sel=contract/),
      ],
      ['KS-4 ends in 12 days: one serial in rpw-ring is without cover then', expect.anything()],
    ]);
    const follows = take(`KS-5,contract,,${day(377)},${String(ring)},${day(13)}`);
    expect([await standing(), covers().length]).toEqual([{ 'cover-ends': 0, 'cover-ended': 1 }, 1]);
    expect(only('devices', 'name=rpw-ring')).toMatchObject({
      cover: 'covered',
      coverUntil: day(377),
      coveredBy: ['KS-4', 'KS-5'],
    });
    undo(follows);
    expect(await standing()).toEqual({ 'cover-ends': 1, 'cover-ended': 1 });
    // how it was stays as it was judged
    expect(readJudgements(sample.store.db, 1)).toEqual(before);
  });
  test('are taken back as they were written; what somebody wrote since stays, and a stale writing is refused as a whole', () => {
    const { id, ...known } = readContracts(sample.store.db).find(({ number }) => number === 'KS-4') ?? {
      id: 0,
      number: '',
    };
    const edit = take(`KS-4,warranty,,${day(12)},X1 X2,`, 'KS-9,licence,,,L1,');
    expect(
      thingDossier(sample.store, 'contracts', 2, String(id))?.history.map(({ words, before, after }) => [
        words,
        before,
        after,
      ]),
    ).toEqual([
      ['kind written by marla', 'contract', 'warranty'],
      ['serials written by marla', expect.stringContaining('KR12-'), 'X1, X2'],
      ['entered by marla', '', ''],
    ]);
    const stale = plan('KS-9,licence,,,L2,', 'KS-10,licence,,,L3,').changes;
    take('KS-9,licence,,2030-01-01,L1,');
    expect(() => write(stale)).toThrow(StaleEditError);
    expect(readContracts(sample.store.db).map(({ number }) => number)).not.toContain('KS-10');
    expect(undo(edit)).toMatchObject({ back: 1, stay: 1 });
    expect(readContracts(sample.store.db).find(({ number }) => number === 'KS-4')).toEqual({ id, ...known });
    expect(undo(edit)).toBeNull();
  });
  test('that are deleted come back under their number', () => {
    const found = readContracts(sample.store.db).find(({ number }) => number === 'KS-9');
    if (!found) throw new Error('no such contract');
    const before = contractAlone(found);
    const { edit } = write([{ key: String(found.id), before, after: null }]);
    expect(ask('contracts', 'number=KS-9')).toEqual([]);
    expect(() => write([{ key: null, before: null, after: { ...before, number: 'ks-1' } }])).toThrow(EditRefused);
    undo(edit);
    expect(only('contracts', 'number=KS-9')).toMatchObject({ id: String(found.id), until: '2030-01-01' });
  });
});

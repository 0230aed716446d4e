import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Outlet } from '../core/floor/outlet';
import { openStore, type Store } from './base/database';
import {
  addFloorPlan,
  deleteFloorPlan,
  listFloorPlans,
  planStamp,
  readFloorPlan,
  readPicture,
  restoreFloorPlan,
  StalePlanError,
  writeFloorPlan,
} from './floorPlans';
import { editables } from './edits/editables';
import { editStamp, StaleEditError, writeEdit } from './edits/log';
import { recentEdits } from './edits/recent';
import { outletEdits } from './edits/outlets';
import { undoEdit } from './edits/undo';
import { readOutlets } from './outlets';

let folder: string;
let store: Store;
beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-floors-'));
  store = openStore(folder);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

const outlet = (label: string, more: Partial<Outlet> = {}): Outlet => ({
  site: 'RPW',
  label,
  room: 'Kiosk',
  panel: 'PP1',
  position: label.slice(-2),
  port: null,
  note: '',
  ...more,
});
/** Writes outlets, found by the label they had. */
const write = (...writes: { before: Outlet | null; after: Outlet | null }[]) => {
  const idOf = (label?: string) => readOutlets(store.db).find((one) => one.label === label)?.id;
  const changes = writes.map((one) => ({ ...one, key: one.before && String(idOf(one.before.label)) }));
  const { edit, keys } = writeEdit(store.db, outletEdits, { who: 'osric', act: 'wrote', words: 'wires', changes });
  return { edit, ids: keys.map(Number) };
};
const undo = (edit: number, who: string) => undoEdit(store.db, editables, edit, who);
const outletStamp = () => editStamp(store.db, 'outlets');
const now = () => readOutlets(store.db).map(({ label, position, room }) => `${label} ${position} ${room}`);

describe('outlets', () => {
  test('two change places at once, and keep their numbers', () => {
    const { ids } = write({ before: null, after: outlet('R-01') }, { before: null, after: outlet('R-02') });
    write(
      { before: outlet('R-01'), after: outlet('R-01', { position: '02' }) },
      { before: outlet('R-02'), after: outlet('R-02', { position: '01' }) },
    );
    expect(now()).toEqual(['R-01 02 Kiosk', 'R-02 01 Kiosk']);
    expect(readOutlets(store.db).map(({ id }) => id)).toEqual(ids);
  });
  test('nothing is written where one was changed meanwhile, or a place is taken', () => {
    write({ before: null, after: outlet('R-01') });
    expect(() =>
      write(
        { before: null, after: outlet('R-05') },
        { before: outlet('R-01', { room: 'Hall' }), after: outlet('R-01', { room: 'Store' }) },
      ),
    ).toThrow(StaleEditError);
    expect(() =>
      write({ before: null, after: outlet('R-05') }, { before: null, after: outlet('R-06', { position: '01' }) }),
    ).toThrow('R-01 is at place 01 of PP1 already');
    expect(() => write({ before: null, after: outlet('r-01', { position: '' }) })).toThrow('already');
    expect(now()).toEqual(['R-01 01 Kiosk']);
  });
  test('an edit is taken back once; what was written over since stays', () => {
    const { edit } = write({ before: null, after: outlet('R-01') }, { before: null, after: outlet('R-02') });
    write({ before: outlet('R-01'), after: outlet('R-01', { room: 'Hall' }) });
    const stamp = outletStamp();
    expect(undo(edit, 'wenna')).toMatchObject({ back: 1, stay: 1 });
    expect([now(), undo(edit, 'wenna'), undo(99, 'wenna'), outletStamp() > stamp]).toEqual([
      ['R-01 01 Hall'],
      null,
      null,
      true,
    ]);
    expect(
      recentEdits(store.db, { kinds: ['outlets'], most: 9 }).rows.map(({ words, values, undoneBy }) => [
        words,
        values,
        undoneBy !== null,
      ]),
    ).toEqual([
      ['wires', 1, false],
      ['wires', 2, true],
    ]);
  });
  test('one that was deleted comes back unless its place is taken', () => {
    write({ before: null, after: outlet('R-01') }, { before: null, after: outlet('R-02') });
    const { edit } = write({ before: outlet('R-01'), after: null }, { before: outlet('R-02'), after: null });
    write({ before: null, after: outlet('R-09', { position: '01' }) });
    expect(undo(edit, 'osric')).toMatchObject({
      back: 1,
      stay: 1,
      why: ['R-01 of RPW: R-09 is at place 01 of PP1 already'],
    });
    expect(now()).toEqual(['R-02 02 Kiosk', 'R-09 01 Kiosk']);
    const { edit: last } = write({ before: outlet('R-02'), after: null });
    write({ before: null, after: outlet('R-02', { position: '08' }) });
    expect(() => undo(last, 'osric')).toThrow('RPW has an outlet “R-02” already');
    expect(now()).toEqual(['R-02 08 Kiosk', 'R-09 01 Kiosk']);
  });
});

describe('plans', () => {
  const head = { mediaType: 'image/png', width: 40, height: 30 } as const;
  const add = () =>
    addFloorPlan(store.db, { site: 'RPW', name: 'level 0', who: 'osric', head, picture: Buffer.from('points') });
  test('what is drawn is written over what was seen, and over nothing else', () => {
    const id = add();
    const layout = { rooms: [], marks: [{ kind: 'device' as const, id: 4, at: [0.5, 0.5] as const }] };
    expect(writeFloorPlan(store.db, id, 1, 'osric', { layout })).toBe(2);
    expect(() => writeFloorPlan(store.db, id, 1, 'wenna', { name: 'mine' })).toThrow(StalePlanError);
    expect(readFloorPlan(store.db, id)).toMatchObject({
      name: 'level 0',
      layout,
      revision: 2,
      changedBy: 'osric',
      width: 40,
    });
    expect(readPicture(store.db, id)?.picture.toString()).toBe('points');
  });
  test('one that was deleted is nowhere, until it is brought back', () => {
    const id = add();
    const stamps = [planStamp(store.db)];
    expect([
      deleteFloorPlan(store.db, id),
      deleteFloorPlan(store.db, id),
      listFloorPlans(store.db),
      readFloorPlan(store.db, id),
    ]).toEqual(['level 0', null, [], null]);
    expect(() => writeFloorPlan(store.db, id, 1, 'osric', { name: 'x' })).toThrow(StalePlanError);
    stamps.push(planStamp(store.db));
    expect([restoreFloorPlan(store.db, id), restoreFloorPlan(store.db, id), listFloorPlans(store.db).length]).toEqual([
      'level 0',
      null,
      1,
    ]);
    expect(new Set([...stamps, '']).size).toBe(3);
  });
});

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
import { outletStamp, readOutlets, recentOutletEdits, StaleOutletError, undoOutlets, writeOutlets } from './outlets';

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
const write = (...writes: { before: Outlet | null; after: Outlet | null; id?: number }[]) =>
  writeOutlets(store.db, { who: 'osric', words: 'wires', writes });
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
    ).toThrow(StaleOutletError);
    expect(() =>
      write({ before: null, after: outlet('R-05') }, { before: null, after: outlet('R-06', { position: '01' }) }),
    ).toThrow('R-01 is at place 01 of PP1 already');
    expect(() => write({ before: null, after: outlet('r-01', { position: '' }) })).toThrow('already');
    expect(now()).toEqual(['R-01 01 Kiosk']);
  });
  test('an edit is taken back once; what was written over since stays', () => {
    const { edit } = write({ before: null, after: outlet('R-01') }, { before: null, after: outlet('R-02') });
    write({ before: outlet('R-01'), after: outlet('R-01', { room: 'Hall' }) });
    const stamp = outletStamp(store.db);
    expect(undoOutlets(store.db, edit, 'wenna')).toMatchObject({ back: 1, stay: 1 });
    expect([
      now(),
      undoOutlets(store.db, edit, 'wenna'),
      undoOutlets(store.db, 99, 'wenna'),
      outletStamp(store.db) > stamp,
    ]).toEqual([['R-01 01 Hall'], null, null, true]);
    expect(
      recentOutletEdits(store.db, 9).map(({ words, outlets, undoneBy }) => [words, outlets, undoneBy !== null]),
    ).toEqual([
      ['wires', 1, false],
      ['wires', 2, true],
    ]);
  });
  test('one that was deleted comes back unless its place is taken', () => {
    const { ids } = write({ before: null, after: outlet('R-01') });
    const { edit } = write({ id: ids[0] ?? 0, before: outlet('R-01'), after: null });
    write({ before: null, after: outlet('R-09', { position: '01' }) });
    expect([undoOutlets(store.db, edit, 'osric'), now()]).toEqual([
      expect.objectContaining({ back: 0, stay: 1 }),
      ['R-09 01 Kiosk'],
    ]);
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

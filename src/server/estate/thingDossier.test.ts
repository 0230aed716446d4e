import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { thingNames } from '../../core/things/things';
import { readChecks } from '../../store/checks';
import { queryThing, thingRows } from '../query/query';
import { thingDossier } from './thingDossier';

/** Three surveys: the baseline, a camera moved, today. */
let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 4, 8] });
});
afterAll(() => sample.close());

const idOf = (thing: Parameters<typeof queryThing>[1], where: string) =>
  queryThing(sample.store, thing, { survey: 3, against: null, where, sort: [], page: 1, size: 1 }).rows[0]?.id ?? '';

describe('a dossier of every kind of thing', () => {
  test.each(thingNames.filter((name) => name !== 'changes' && name !== 'visits'))(
    '%s: every row has one, whose near tables have as many rows as it says',
    (name) => {
      for (const { id } of thingRows(sample.store, name, 3, null).slice(0, 25)) {
        const dossier = thingDossier(sample.store, name, 3, id);
        expect(dossier?.row.id).toBe(id);
        for (const { thing, where, total } of dossier?.near ?? [])
          expect([
            where,
            queryThing(sample.store, thing, { survey: 3, against: null, where, sort: [], page: 1, size: 1 }).total,
          ]).toEqual([where, total]);
      }
    },
  );
  test('an endpoint that moved says from where to where; before it moved it does not', () => {
    const moved = thingRows(sample.store, 'endpoints', 3, null)
      .map(({ id }) => thingDossier(sample.store, 'endpoints', 3, id))
      .filter((dossier) => dossier?.history.some(({ words }) => words === 'moved'));
    expect(moved.length).toBeGreaterThan(0);
    const [first] = moved;
    const event = first?.history.find(({ words }) => words === 'moved');
    expect([event?.before, event?.after]).toEqual([
      expect.stringMatching(/^\S+ \S+$/),
      expect.stringMatching(/^\S+ \S+$/),
    ]);
    expect(thingDossier(sample.store, 'endpoints', 1, first?.row.id ?? '')?.history.map(({ words }) => words)).toEqual([
      'first seen',
    ]);
  });
  test('a module tells what changed, a peer how the other end sees it, a memory socket that is empty what it is for', () => {
    const module = thingDossier(sample.store, 'modules', 3, idOf('modules', 'device=sgh-srv-02 name="Drive 3"'));
    expect(module?.history.map(({ words, after }) => [words, after])).toContainEqual(['serial changed', 'BD-72400']);
    expect(
      thingDossier(sample.store, 'peers', 3, idOf('peers', 'device=sgh-core-1 peer=sgh-core-2'))?.near,
    ).toContainEqual(expect.objectContaining({ words: 'how the other end sees it', total: 1 }));
    expect(
      thingDossier(sample.store, 'modules', 3, idOf('modules', 'empty=yes holds=memory device.role=server'))?.row,
    ).toMatchObject({ class: 'container', holds: 'memory' });
  });
  test('a port says which checks fail at it, at its link and at what is plugged in, and so does every row that a check finds', () => {
    const failing = (where: string) =>
      thingDossier(sample.store, 'ports', 3, idOf('ports', where))?.failing.map(({ key, of }) => [key, of]);
    expect(failing('device=rpw-plat name=6')).toEqual(
      expect.arrayContaining([
        ['half-duplex', []],
        ['ten-megabit', []],
      ]),
    );
    expect(failing('device=rpw-plat name=U1')).toContainEqual([
      'native-vlan-differs',
      [expect.stringMatching(/^native VLAN differs: rpw-plat U1 has \d+, rpw-ring 3 has \d+$/)],
    ]);
    expect(failing('device=rpw-plat name=12')).toContainEqual([
      'unmanaged-switch',
      expect.arrayContaining([expect.any(String)]),
    ]);
    expect(failing('device=rpw-plat name=3')).toEqual([]);
    for (const { key, thing, where } of readChecks(sample.store.db).filter(({ on }) => on)) {
      for (const { id } of queryThing(sample.store, thing, {
        survey: 3,
        against: null,
        where,
        sort: [],
        page: 1,
        size: 5,
      }).rows) {
        expect(thingDossier(sample.store, thing, 3, id)?.failing.map((own) => own.key)).toContain(key);
      }
    }
  });
  test('there is none of what is not there', () => {
    expect(thingDossier(sample.store, 'ports', 3, '1:nothing')).toBeNull();
    expect(thingDossier(sample.store, 'endpoints', 3, '02:00:00:00:00:01')).toBeNull();
  });
});

test('changes between two surveys are told at the survey in which they happened, those that went back too', () => {
  const steps = (survey: number, against: number) =>
    queryThing(sample.store, 'changes', { survey, against, where: '', sort: [], page: 1, size: 1 }).total;
  expect(steps(3, 1)).toBe(steps(2, 1) + steps(3, 2));
  const when = new Set(thingRows(sample.store, 'changes', 3, 1).map((row) => row.survey));
  expect([...when].sort()).toEqual([2, 3]);
});

import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import { scopeDefaults } from '../core/estate/scope';
import {
  addShares,
  dropKnownDeliveries,
  freeSilent,
  keepOnly,
  lateDeliveries,
  lastHeard,
  leaseShare,
  listCollectors,
  noteHeard,
  removeCollector,
  sharesOf,
  storeDelivery,
  takeDelivery,
  waitingDeliveries,
} from './collectors';
import { openStore, type Store } from './base/database';
import { queueSurvey, updateJob } from './jobs';
import { addToken, tokenOwner } from './tokens';
import { delivery, survey, visit } from './base/schema';
import { saveScope } from './scopes';

let folder: string;
let store: Store;
let surveyId: number;
const now = new Date('2026-11-24T06:00:00Z');
const later = (seconds: number) => new Date(now.getTime() + seconds * 1000);
const load = { addresses: 0, spooled: 0, spooledBytes: 0, memoryBytes: 1, processor: 0 };
const heard = (name: string, at = now, fault = '') => noteHeard(store.db, name, { version: '0.1.0', load, fault }, at);
const arrival = (share: number, addresses: string[], more: object = {}) => ({
  id: randomUUID(),
  survey: surveyId,
  share,
  last: false,
  addresses,
  body: Buffer.from('body'),
  ...more,
});
const addresses = ['10.72.0.1', '10.72.0.2', '10.72.0.3', '10.72.0.4'];

beforeEach(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'bolide-shares-'));
  store = openStore(folder);
  for (const name of ['hdp-1', 'hdp-2', 'elsewhere']) addToken(store.db, { name, role: 'collector' });
  const scopeId = saveScope(store.db, {
    ...scopeDefaults,
    name: 'Harbour',
    ranges: ['10.72.0.0/29'],
    collectors: ['hdp-1', 'hdp-2'],
  });
  surveyId = store.db
    .insert(survey)
    .values({ scopeName: 'Harbour', scope: {}, state: 'running', startedAt: now.toISOString() })
    .returning({ id: survey.id })
    .get().id;
  updateJob(store.db, queueSurvey(store.db, { scopeId }), { surveyId, state: 'running' });
  addShares(store.db, surveyId, 'ask', [addresses.slice(0, 2), addresses.slice(2)]);
});
afterEach(() => {
  store.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('shares', () => {
  const lease = (name: string) => leaseShare(store.db, name)?.share.addresses ?? null;
  test('go to the collectors of the scope, each to one, and to nobody else', () => {
    expect([lease('elsewhere'), lease('hdp-1'), lease('hdp-2'), lease('hdp-1')]).toEqual([
      null,
      addresses.slice(0, 2),
      addresses.slice(2),
      null,
    ]);
    expect(listCollectors(store.db).map(({ name, inHand, scopes }) => [name, inHand, scopes])).toEqual([
      ['elsewhere', 0, []],
      ['hdp-1', 2, ['Harbour']],
      ['hdp-2', 2, ['Harbour']],
    ]);
  });
  test('of a silent collector are free again; of one that is heard are not', () => {
    heard('hdp-1');
    heard('hdp-2', later(20));
    lease('hdp-1');
    lease('hdp-2');
    freeSilent(store.db, surveyId, later(15));
    expect(sharesOf(store.db, surveyId).map(({ state, collector }) => [state, collector])).toEqual([
      ['open', null],
      ['leased', 'hdp-2'],
    ]);
  });
  test('that a collector does not name any more are free: it was started again', () => {
    lease('hdp-1');
    const [first, second] = sharesOf(store.db, surveyId);
    keepOnly(store.db, 'hdp-1', [first?.id ?? 0]);
    expect(sharesOf(store.db, surveyId)[0]?.state).toBe('leased');
    keepOnly(store.db, 'hdp-1', [second?.id ?? 0]);
    expect(sharesOf(store.db, surveyId)[0]?.state).toBe('open');
  });
  test('hold only what nobody delivered yet', () => {
    const first = leaseShare(store.db, 'hdp-1')?.share;
    store.db.insert(visit).values({ surveyId, address: '10.72.0.1', seq: 1, state: 'done' }).run();
    keepOnly(store.db, 'hdp-1', []);
    expect(lease('hdp-2')).toEqual(['10.72.0.2']);
    expect(storeDelivery(store.db, 'hdp-2', arrival(first?.id ?? 0, ['10.72.0.2']), now)).toBe('stored');
    keepOnly(store.db, 'hdp-2', []);
    // nothing is left of the first: the second is next
    expect(lease('hdp-1')).toEqual(addresses.slice(2));
    expect(sharesOf(store.db, surveyId)[0]?.state).toBe('done');
  });
  test('of a survey that is over are nobody’s', () => {
    store.db.update(survey).set({ state: 'cancelled' }).where(eq(survey.id, surveyId)).run();
    expect(lease('hdp-1')).toBeNull();
  });
});

describe('deliveries', () => {
  const shareId = () => sharesOf(store.db, surveyId)[0]?.id ?? 0;
  test('arrive once, however often they are sent, and are taken once', () => {
    const first = arrival(shareId(), ['10.72.0.1'], { last: true });
    expect([storeDelivery(store.db, 'hdp-1', first, now), storeDelivery(store.db, 'hdp-1', first, now)]).toEqual([
      'stored',
      'known',
    ]);
    expect(sharesOf(store.db, surveyId)[0]?.state).toBe('done');
    expect(waitingDeliveries(store.db, surveyId).map(({ id, collector }) => [id, collector])).toEqual([
      [first.id, 'hdp-1'],
    ]);
    takeDelivery(store.db, first.id, () => undefined);
    expect([waitingDeliveries(store.db, surveyId), storeDelivery(store.db, 'hdp-1', first, now)]).toEqual([
      [],
      'known',
    ]);
  });
  test('whose taking breaks wait on, and nothing of them is written', () => {
    const first = arrival(shareId(), ['10.72.0.1']);
    storeDelivery(store.db, 'hdp-1', first, now);
    expect(() =>
      takeDelivery(store.db, first.id, () => {
        store.db.insert(visit).values({ surveyId, address: '10.72.0.1', seq: 1, state: 'done' }).run();
        throw new Error('power cut');
      }),
    ).toThrow('power cut');
    expect([waitingDeliveries(store.db, surveyId).length, store.db.select().from(visit).all().length]).toEqual([1, 0]);
  });
  test('of addresses that nobody asked for, or of no survey, are refused', () => {
    expect(storeDelivery(store.db, 'hdp-1', arrival(shareId(), ['10.72.0.9']), now)).toBe('unasked');
    expect(storeDelivery(store.db, 'hdp-1', arrival(99, ['10.72.0.1']), now)).toBe('unasked');
    expect(storeDelivery(store.db, 'hdp-1', { ...arrival(shareId(), []), survey: 77 }, now)).toBe('unasked');
    expect(store.db.select().from(delivery).all()).toEqual([]);
  });
  test('that come when the survey was sealed are told as late; of a cancelled one nobody wants them', () => {
    store.db.update(survey).set({ state: 'sealed' }).where(eq(survey.id, surveyId)).run();
    storeDelivery(store.db, 'hdp-1', arrival(shareId(), ['10.72.0.1']), now);
    storeDelivery(store.db, 'hdp-2', arrival(shareId(), ['10.72.0.2']), now);
    expect(lateDeliveries(store.db)).toEqual([
      { surveyId, scopeName: 'Harbour', addresses: ['10.72.0.1', '10.72.0.2'] },
    ]);
    store.db.update(survey).set({ state: 'cancelled' }).where(eq(survey.id, surveyId)).run();
    expect(storeDelivery(store.db, 'hdp-1', arrival(shareId(), ['10.72.0.1']), now)).toBe('over');
  });
  test('that come late and tell what was heard meanwhile are dropped; of the others only what is new is taken', () => {
    const answered = (id: number, address: string) => {
      const row = { surveyId: id, address, seq: 1, state: 'done' as const, outcome: 'answered' };
      store.db.insert(visit).values(row).run();
    };
    const [first, second] = sharesOf(store.db, surveyId);
    answered(surveyId, '10.72.0.1');
    store.db.insert(visit).values({ surveyId, address: '10.72.0.2', seq: 2, state: 'done', outcome: 'failed' }).run();
    store.db.update(survey).set({ state: 'sealed', scopeId: 1 }).where(eq(survey.id, surveyId)).run();
    const sealed = (scopeId: number) =>
      store.db
        .insert(survey)
        .values({ scopeName: '', scopeId, scope: {}, state: 'sealed', startedAt: later(60).toISOString() })
        .returning({ id: survey.id })
        .get().id;
    // a later survey of the same scope tells more than what comes late; one of another scope may have asked another machine of that address
    answered(sealed(1), '10.72.0.3');
    answered(sealed(2), '10.72.0.4');
    const known = arrival(first?.id ?? 0, ['10.72.0.1']);
    const part = arrival(first?.id ?? 0, ['10.72.0.1', '10.72.0.2']);
    const newer = arrival(second?.id ?? 0, ['10.72.0.3', '10.72.0.4']);
    for (const one of [known, part, newer]) storeDelivery(store.db, 'hdp-1', one, now);
    dropKnownDeliveries(store.db);
    expect(lateDeliveries(store.db)).toEqual([
      { surveyId, scopeName: 'Harbour', addresses: ['10.72.0.2', '10.72.0.4'] },
    ]);
    expect(waitingDeliveries(store.db, surveyId).map(({ id }) => id)).toEqual([part.id, newer.id]);
    expect(storeDelivery(store.db, 'hdp-1', known, now)).toBe('known');
  });
  test('that come late with nothing in them make no survey', () => {
    store.db.update(survey).set({ state: 'sealed' }).where(eq(survey.id, surveyId)).run();
    storeDelivery(store.db, 'hdp-1', arrival(shareId(), [], { last: true }), now);
    expect(lateDeliveries(store.db)).toEqual([]);
  });
});

test('a collector of another version counts as absent', () => {
  heard('hdp-1', later(5), 'is version 9');
  expect(lastHeard(store.db, ['hdp-1', 'hdp-2'])).toBe(0);
  heard('hdp-2', later(3));
  expect(lastHeard(store.db, ['hdp-1', 'hdp-2'])).toBe(later(3).getTime());
});
test('removed, its token is nobody’s and its shares are free', () => {
  const text = addToken(store.db, { name: 'hdp-3', role: 'collector' });
  leaseShare(store.db, 'hdp-1');
  const { id = 0 } = listCollectors(store.db).find(({ name }) => name === 'hdp-1') ?? {};
  expect([removeCollector(store.db, id), removeCollector(store.db, id)]).toEqual(['hdp-1', null]);
  expect(sharesOf(store.db, surveyId).every(({ state }) => state === 'open')).toBe(true);
  expect(tokenOwner(store.db, text)).toMatchObject({
    person: { id: 0, name: 'hdp-3', role: 'collector' },
    areas: null,
  });
});

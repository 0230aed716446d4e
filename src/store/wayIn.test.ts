import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../e2e/support/sampleStore';
import { scopeDefaults } from '../core/estate/scope';
import { queryThing } from '../server/query/query';
import { survey } from './base/schema';
import { saveCredential } from './credentials';
import { saveScope } from './scopes';
import { wayIn } from './wayIn';

/** One survey, of a scope that nobody saved. */
let sample: SampleStore;
let plat: number;
beforeAll(async () => {
  sample = await openSample({ steps: [1] });
  const wanted = { survey: 1, against: null, where: 'name=rpw-plat', sort: [], page: 1, size: 1 };
  plat = Number(queryThing(sample.store, 'devices', wanted).rows[0]?.id);
});
afterAll(() => sample.close());

test('a device is acted on by the scope that surveyed it, whatever that is called now', () => {
  const { db } = sample.store;
  const byHand = { ...scopeDefaults, ranges: ['10.72.4.1-2'], writeCredentials: ['hands'] };
  expect(wayIn(db, plat)).toMatchObject({ reason: 'rpw-plat was surveyed by no scope that is kept' });
  saveCredential(sample.store, { name: 'hands', kind: 'snmp2c', community: 'writes-alone' });
  // a survey of long ago tells no more than the name
  const id = saveScope(db, { ...byHand, name: 'Ostermere' });
  expect(wayIn(db, plat)).toMatchObject({ scope: { name: 'Ostermere' } });
  db.update(survey).set({ scopeId: id }).run();
  saveScope(db, { ...byHand, name: 'North half-ring' }, id);
  saveScope(db, { ...byHand, name: 'Ostermere', writeCredentials: ['others'] });
  expect(wayIn(db, plat)).toMatchObject({ scope: { name: 'North half-ring', writeCredentials: ['hands'] } });
});

import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { maintenanceEdits } from '../../store/edits/maintenance';
import { place } from '../../store/edits/place';
import { readChecks, readJudgements, saveCheck } from '../../store/checks';
import { saveTarget } from '../../store/targets';
import { judgeNow } from './keepJudging';
import { checksToJudge } from './judgements';

let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 8] });
});
afterAll(() => sample.close());

const judge = () => judgeNow(sample.store);
const standing = (survey: number) =>
  Object.fromEntries(
    readJudgements(sample.store.db)
      .filter((judgement) => judgement.survey === survey && judgement.failing > 0)
      .map(({ key, failing }) => [key, failing]),
  );

test('every check that is on is judged at every survey, and finds what is planted, no more', async () => {
  await judge();
  const on = readChecks(sample.store.db).filter((check) => check.on);
  expect(readJudgements(sample.store.db)).toHaveLength(2 * on.length);
  expect(readJudgements(sample.store.db).filter(({ fault }) => fault !== '')).toEqual([]);
  expect(checksToJudge(sample.store)).toBeNull();
  const now = standing(2);
  expect(now).toEqual({
    'allowed-vlans-differ': 1,
    'critical-fault': 3,
    'cut-link': 2,
    'duplex-differs': 1,
    'flash-nearly-full': 1,
    'half-duplex': 2,
    'lossy-port': 2,
    'native-vlan-differs': 1,
    'new-neighbour': 1,
    'no-location': 4,
    'not-saved': 1,
    'one-sided': 1,
    partial: 1,
    'peer-down': 1,
    'random-mac-on-cable': 1,
    'reading-beyond-bounds': 1,
    silent: 1,
    teaming: 2,
    'ten-megabit': 1,
    'unexplained-listener': 6,
    'unmanaged-switch': 8,
  });
  expect(standing(1)).not.toMatchObject({ silent: expect.anything() });
  expect(Object.keys(standing(1))).not.toContain('duplex-differs');
});

test('a rule that is changed is judged anew, one that asks for nothing that is there says so', async () => {
  const silent = readChecks(sample.store.db).find(({ key }) => key === 'silent');
  if (!silent) throw new Error('no such check');
  saveCheck(sample.store.db, { ...silent, scope: 'site=SGH' });
  saveCheck(sample.store.db, { ...silent, key: 'own-1', name: 'No red device', where: 'colour=red' });
  await judge();
  expect([
    standing(2).silent,
    readJudgements(sample.store.db).find(({ key, survey }) => key === 'own-1' && survey === 2)?.fault,
  ]).toEqual([undefined, expect.stringContaining('colour')]);
  saveCheck(sample.store.db, silent);
  await judge();
  expect(standing(2).silent).toBe(1);
});

test('what is in maintenance is expected; a target makes checks of readiness', async () => {
  place(sample.store.db, maintenanceEdits, {
    where: 'site=OFY or site=LQY',
    reason: 'new cabinet',
    from: new Date(Date.now() - 60_000).toISOString(),
    until: null,
    by: 'marla',
  });
  saveTarget(sample.store.db, {
    vendor: 'Kestrane',
    family: 'K-Access',
    release: '7.4.12b',
    group: '',
    setBy: 'marla',
    setAt: '',
  });
  // what was judged stays as it was judged
  await judge();
  expect(standing(2).silent).toBe(1);
  sample.store.raw.prepare('delete from check_result where survey_id = 2').run();
  await judge();
  const now = readJudgements(sample.store.db).filter(({ survey }) => survey === 2);
  expect(now.find(({ key }) => key === 'silent')).toMatchObject({ failing: 0, excused: 1 });
  // a link is excused by either end
  expect(now.find(({ key }) => key === 'duplex-differs')).toMatchObject({ failing: 0, excused: 1 });
  expect(now.find(({ key }) => key === 'blocked-target')).toMatchObject({ failing: 0, excused: 1 });
});

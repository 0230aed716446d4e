import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import Database from 'better-sqlite3';
import { eq } from 'drizzle-orm';
import { openSample, sampleKeys, type SampleStore } from '../../../e2e/support/sampleStore';
import type { DeviceFacts } from '../../core/estate/facts';
import type { Signature } from '../../core/signatures/signature';
import { factsAsOf } from '../../store/base/facts';
import { readSignatures } from '../../store/programFiles';
import { survey as surveyTable, visit } from '../../store/base/schema';
import { queryThing } from '../../server/query/query';
import { latestSealed } from '../../store/base/sealedSurveys';

let sample: SampleStore;
beforeEach(async () => {
  sample = await openSample();
  await sample.fleet.moveTo(1);
});
afterEach(() => sample.close());

const powerCut = () => new Database.SqliteError('power cut', 'SQLITE_IOERR');
const few = { ranges: ['10.72.4.1-2', '10.72.1.11'] };
const names = (survey: number) =>
  factsAsOf<DeviceFacts>(sample.store.db, 'device', survey)
    .map(({ content }) => content.name)
    .sort();
const visitOf = (survey: number, address: string) =>
  sample.store.db
    .select()
    .from(visit)
    .where(eq(visit.surveyId, survey))
    .all()
    .find((row) => row.address === address);

describe('credentials', () => {
  test('are tried in order, and the one that worked is tried first the next time', async () => {
    await sample.survey({}, few);
    expect([visitOf(1, '10.72.4.1')?.credential, visitOf(1, '10.72.1.11')?.credential]).toEqual(['v3', 'read-only']);
    // the wrong one would be waited for, for a minute
    await sample.survey({}, { ...few, timeoutMs: 60_000, retries: 0 });
    expect(visitOf(2, '10.72.1.11')?.credential).toBe('read-only');
  }, 20_000);
  test('a scope without any says so for each address, and nothing was sent', async () => {
    const summary = await sample.survey({ credentials: [] }, few);
    expect(summary.addresses).toEqual({ asked: 3, answered: 0, silent: 0 });
    expect(summary.failures.map(({ reason }) => reason)).toEqual(Array(3).fill('no credential to try'));
  });
});

describe('outcomes', () => {
  test('a device that does not answer any more is silent, not gone; an address nobody had is no failure', async () => {
    await sample.survey({}, { ranges: [...few.ranges, '10.72.4.200'] });
    sample.fleet.close();
    const summary = await sample.survey({}, { ranges: [...few.ranges, '10.72.4.200'], timeoutMs: 60, retries: 0 });
    expect(summary).toMatchObject({
      addresses: { asked: 4, answered: 0, silent: 4 },
      devices: { found: 0, silent: 3 },
    });
    expect(summary.failures.map(({ address }) => address).sort()).toEqual(['10.72.1.11', '10.72.4.1', '10.72.4.2']);
    expect(names(2)).toEqual(['rpw-plat', 'rpw-ring', 'sgh-srv-01']);
  });
  test('one device asked on two of its addresses is one device', async () => {
    const summary = await sample.survey({}, { ranges: ['10.72.0.1', '10.72.4.251'] });
    const core = factsAsOf<DeviceFacts>(sample.store.db, 'device', 1)[0]?.content;
    expect(core?.addresses).toContain('10.72.4.251');
    expect(summary.devices).toMatchObject({ found: 1, new: 1 });
  });
  test('what is out of the scope is neither silent nor gone', async () => {
    await sample.survey({}, few);
    const summary = await sample.survey({}, { ranges: ['10.72.4.1'] });
    expect(summary.devices).toMatchObject({ found: 1, silent: 0, new: 0 });
    expect(names(2)).toEqual(['rpw-plat', 'rpw-ring', 'sgh-srv-01']);
  });
});

describe('the seal', () => {
  test('nothing is sealed before the end, and the seal holds the summary that was told', async () => {
    let sealedEarly: number | undefined;
    const summary = await sample.survey({ onStarted: () => (sealedEarly = latestSealed(sample.store.db)) }, few);
    expect([sealedEarly, latestSealed(sample.store.db)]).toEqual([0, 1]);
    expect(sample.store.db.select().from(surveyTable).get()).toMatchObject({
      state: 'sealed',
      summary: { ...summary, changes: 0 },
    });
    expect(Date.parse(summary.sealedAt)).toBeGreaterThanOrEqual(Date.parse(summary.startedAt));
  });
  test('a clock that is set back in the middle never seals a survey before it began', async () => {
    let reads = 0;
    const summary = await sample.survey(
      { clock: () => new Date(Date.UTC(2026, 10, 23, 6) - 3_600_000 * reads++) },
      few,
    );
    expect(reads).toBeGreaterThan(1);
    expect(Date.parse(summary.sealedAt)).toBeGreaterThanOrEqual(Date.parse(summary.startedAt));
    expect(latestSealed(sample.store.db)).toBe(1);
  });
  test('a cancelled survey keeps what it has and is sealed as cancelled', async () => {
    let committed = 0;
    const summary = await sample.survey(
      { cancelled: () => (committed = factsAsOf(sample.store.db, 'device', 1).length) >= 3 },
      { concurrency: 1 },
    );
    expect(committed).toBe(3);
    expect(summary.devices.found).toBe(3);
    expect(sample.store.db.select().from(surveyTable).get()?.state).toBe('cancelled');
  });
  test('a survey whose store breaks is failed, never sealed', async () => {
    const breaks = () => {
      if (factsAsOf(sample.store.db, 'device', 1).length >= 1) throw powerCut();
      return false;
    };
    await expect(sample.survey({ cancelled: breaks }, few)).rejects.toThrow('power cut');
    expect([sample.store.db.select().from(surveyTable).get()?.state, latestSealed(sample.store.db)]).toEqual([
      'failed',
      0,
    ]);
  });
  test('a fault of our own on one device is that device’s outcome, and the others go on', async () => {
    const log = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const [signature] = readSignatures(sample.store.folder);
    const broken = {
      ...signature,
      id: 'broken',
      order: -1,
      match: { description: 'K-Ring' },
      model: { description: '(' },
    } as Signature;
    const summary = await sample.survey({ signatures: [broken, ...readSignatures(sample.store.folder)] }, few);
    expect(summary).toMatchObject({
      devices: { found: 2 },
      failures: [
        {
          address: '10.72.4.1',
          part: 'probe',
          reason: expect.stringContaining('broke the reading'),
          remedy: expect.stringContaining('Take a walk'),
        },
      ],
    });
    expect(log).toHaveBeenCalledTimes(1);
    log.mockRestore();
  });
  test('a survey taken up again asks only what is open, and ends as if it had not been broken off', async () => {
    const broken = sample.survey(
      {
        cancelled: () => {
          if (factsAsOf(sample.store.db, 'device', 1).length >= 2) throw powerCut();
          return false;
        },
      },
      { concurrency: 1 },
    );
    await expect(broken).rejects.toThrow('power cut');
    const before = sample.store.db
      .select()
      .from(visit)
      .all()
      .filter(({ state }) => state === 'done');
    const summary = await sample.survey({ resume: 1 });
    expect(summary).toMatchObject({ survey: 1, devices: { found: 67, new: expect.any(Number), replaced: 0 } });
    for (const { address, seq } of before) expect(visitOf(1, address)?.seq).toBe(seq);
    expect(names(1)).toHaveLength(67);
  });
});

test('a survey of the same network finds no change at all', async () => {
  await sample.survey();
  const again = await sample.survey();
  expect(again.devices).toEqual({ found: 67, new: 0, changed: 0, replaced: 0, silent: 0 });
  expect(sample.store.db.select().from(surveyTable).all()[1]?.summary).toMatchObject({ changes: 0 });
});

test('a v2c survey of a device that has only v3 is told that it speaks v3; with v3 alone the rest is silent', async () => {
  const [v3, community] = sampleKeys;
  expect((await sample.survey({ credentials: community ? [community] : [] }, few)).addresses).toMatchObject({
    answered: 1,
    silent: 0,
  });
  expect(
    sample.store.db
      .select()
      .from(visit)
      .where(eq(visit.outcome, 'refused'))
      .all()
      .map(({ reason }) => reason),
  ).toEqual(Array(2).fill('speaks SNMPv3, but answers to none of the credentials'));
  expect((await sample.survey({ credentials: v3 ? [v3] : [] }, few)).addresses).toMatchObject({ answered: 2 });
});

describe('neighbours', () => {
  const outcomes = (survey: number) =>
    sample.store.db
      .select()
      .from(visit)
      .where(eq(visit.surveyId, survey))
      .all()
      .filter(({ outcome }) => outcome === 'answered');
  test('are followed so many steps from a seed, each with the path by which it was found', async () => {
    await sample.survey({}, { ranges: ['10.72.3.1'], neighbourSteps: 1 });
    expect(names(1)).toEqual(['lqy-plat', 'lqy-ring', 'rpw-ring', 'sgh-core-1']);
    expect([visitOf(1, '10.72.3.1')?.path, visitOf(1, '10.72.4.1')?.path]).toEqual([null, 'lqy-ring 2']);
    const { addresses } = await sample.survey({}, { ranges: ['10.72.3.1'], neighbourSteps: 2 });
    expect(names(2)).toEqual(expect.arrayContaining(['chd-ring', 'rpw-plat', 'sgh-core-2', 'sgh-acc-1']));
    expect(visitOf(2, '10.72.4.2')?.path).toBe('lqy-ring 2 → rpw-ring 3');
    expect(addresses.asked).toBe(sample.store.db.select().from(visit).where(eq(visit.surveyId, 2)).all().length);
  });
  test('only within what the scope allows, never what it excludes, and no device twice', async () => {
    await sample.survey(
      {},
      { ranges: ['10.72.3.1', '10.72.4.1'], exclusions: [], neighbourSteps: 5, neighbourWithin: ['10.72.4.0/24'] },
    );
    expect(names(1)).toEqual(['lqy-ring', 'rpw-ap-01', 'rpw-ap-02', 'rpw-plat', 'rpw-ring']);
    await sample.survey({}, { ranges: ['10.72.3.0/28'], exclusions: ['10.72.3.2-8'], neighbourSteps: 1 });
    expect(
      outcomes(2)
        .map(({ address }) => address)
        .sort(),
    ).toEqual(['10.72.0.1', '10.72.3.1', '10.72.4.1']);
  });
  test('are not followed where the scope says nothing of it', async () => {
    await sample.survey({}, { ranges: ['10.72.3.1'] });
    expect(names(1)).toEqual(['lqy-ring']);
  });
});

test('communities that devices are delivered with are looked for where the scope says so; what was found stays until somebody looks again', async () => {
  const communities = () =>
    factsAsOf<DeviceFacts>(sample.store.db, 'device', latestSealed(sample.store.db)).flatMap(({ content }) =>
      (content.defaultCommunities ?? []).map((community) => `${content.name} ${community}`),
    );
  const both = { ranges: ['10.72.1.40', '10.72.4.1'] };
  await sample.survey({}, both);
  expect(communities()).toEqual([]);
  await sample.survey({}, { ...both, defaultCommunities: true });
  expect(communities()).toEqual(['sgh-ups-1 public']);
  await sample.survey({}, both);
  expect(communities()).toEqual(['sgh-ups-1 public']);
  expect(
    queryThing(sample.store, 'faults', {
      survey: 3,
      against: null,
      where: 'subsystem=security',
      sort: [],
      page: 1,
      size: 10,
    }).rows,
  ).toMatchObject([{ device: 'sgh-ups-1', message: 'still answers to the community “public” it was delivered with' }]);
});

import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { completeRelease, type CatalogueRelease } from './catalogue';
import { judgeReadiness, type ReadinessSubject } from './readiness';
import { compareReleases } from './release';
import { naturalOrder, ReleaseOrder } from './scheme';

const MB = 1024 ** 2;
const entry = (release: string, more: Partial<CatalogueRelease> = {}): CatalogueRelease =>
  completeRelease({
    vendor: 'Kestrane',
    family: 'K-Access',
    release,
    published: '2026-06-16',
    minimumMemoryBytes: 384 * MB,
    neededFlashBytes: 96 * MB,
    ...more,
  });
const subject = (more: Partial<ReadinessSubject> = {}): ReadinessSubject => ({
  vendor: 'Kestrane',
  family: 'K-Access',
  component: 'system',
  model: 'K-Access 48',
  release: '7.4.9',
  bootRelease: '3.2',
  memoryBytes: 512 * MB,
  flashBytes: 256 * MB,
  flashFreeBytes: 140 * MB,
  hardwareRevision: '',
  parts: [],
  ...more,
});
const judge = (more: Partial<ReadinessSubject>, release: Partial<CatalogueRelease> = {}) =>
  judgeReadiness(subject(more), '7.4.12b', [entry('7.4.9'), entry('7.4.12b', release)]);

describe('releases', () => {
  test('numbers are numbers, letters are later, a release candidate is earlier', () => {
    const inOrder = ['7.2.30', '7.4.9', '7.4.12', '7.4.12b', '7.6.0', '10.0'];
    expect([...inOrder].reverse().sort(compareReleases)).toEqual(inOrder);
    expect(['2026.2-p3', '2026.1-p8', '2026.2-p12'].sort(compareReleases)).toEqual([
      '2026.1-p8',
      '2026.2-p3',
      '2026.2-p12',
    ]);
    expect(compareReleases('7.4.1-rc1', '7.4.1')).toBeLessThan(0);
  });
  test('the order is total: antisymmetric and transitive', () => {
    const release = fc.stringMatching(/^[0-9]{1,2}(\.[0-9]{1,2}){0,2}(-?(p|rc|b)[0-9]?)?$/);
    fc.assert(
      fc.property(release, release, release, (a, b, c) => {
        expect(Math.sign(compareReleases(a, b)) + Math.sign(compareReleases(b, a))).toBe(0);
        const [x, y, z] = [a, b, c].sort(compareReleases);
        expect(compareReleases(x ?? '', z ?? '')).toBeLessThanOrEqual(0);
        expect(compareReleases(x ?? '', y ?? '')).toBeLessThanOrEqual(0);
      }),
    );
  });
});

describe('readiness', () => {
  test.each([
    ['ready when all needs are met', {}, {}, 'ready', 'fits'],
    ['already there', { release: '7.4.12b' }, {}, 'already there', 'current'],
    ['already there when later than the target', { release: '7.6.1' }, {}, 'already there', 'newer'],
    ['blocked by memory', { memoryBytes: 256 * MB }, {}, 'blocked', 'memory'],
    [
      'after clearing flash that is large enough',
      { flashFreeBytes: 22 * MB, flashBytes: 512 * MB },
      {},
      'ready after',
      'flash',
    ],
    [
      'blocked by flash that clearing would not help',
      { flashFreeBytes: 22 * MB, flashBytes: 64 * MB },
      {},
      'blocked',
      'hardware',
    ],
    ['after the boot code', { bootRelease: '1.8' }, { minimumBoot: '2.2' }, 'ready after', 'boot'],
    ['after an intermediate release', { release: '7.0.1' }, { minimumFrom: '7.2.30' }, 'ready after', 'intermediate'],
    ['blocked for a model that cannot', {}, { excludedModels: ['K-Access 48'] }, 'blocked', 'hardware'],
    ['unknown when memory is not known, never ready', { memoryBytes: null }, {}, 'unknown', 'unknown'],
    ['unknown when free flash is not known', { flashFreeBytes: null }, {}, 'unknown', 'unknown'],
    ['unknown when the boot code is not known', { bootRelease: '' }, { minimumBoot: '2.2' }, 'unknown', 'unknown'],
    ['unknown when the running release is not known', { release: '' }, {}, 'unknown', 'unknown'],
  ] as const)('%s', (_, more, release, verdict, kind) => {
    const judged = judge(more, {
      ...release,
      excludedModels: 'excludedModels' in release ? [...release.excludedModels] : [],
    });
    expect(judged.verdict).toBe(verdict);
    expect(judged.reasons.map((reason) => reason.kind)).toContain(kind);
  });
  test('a target the catalogue does not have is unknown, and what is blocked stays blocked whatever else is unknown', () => {
    expect(judgeReadiness(subject(), '8.0', [entry('7.4.9')]).verdict).toBe('unknown');
    expect(judge({ memoryBytes: 1, flashFreeBytes: null }).verdict).toBe('blocked');
  });
  test('a target that is itself old says which newer release would fit, only if it would', () => {
    const catalogue = [entry('7.4.12b'), entry('7.6.1', { minimumMemoryBytes: 1024 * MB })];
    expect(judgeReadiness(subject({ memoryBytes: 1024 * MB }), '7.4.12b', catalogue).reasons.at(-1)?.words).toContain(
      '7.6.1 of 2026-06-16',
    );
    expect(judgeReadiness(subject(), '7.4.12b', catalogue).reasons.map(({ kind }) => kind)).not.toContain('targetOld');
  });
  test('a target that was withdrawn is told, though the device runs it; and is no newer one to go to', () => {
    const withdrawn = [
      entry('7.4.9', { status: 'withdrawn' }),
      entry('7.4.12b', { status: 'ended', ends: '2026-10-01' }),
    ];
    const there = judgeReadiness(subject(), '7.4.9', withdrawn);
    expect(there.verdict).toBe('already there');
    expect(there.reasons.map(({ kind, words }) => [kind, words])).toEqual([
      ['current', 'runs 7.4.9 already'],
      ['targetWithdrawn', 'the target was withdrawn by its maker'],
    ]);
    const [reason] = judgeReadiness(subject(), '7.4.12b', withdrawn).reasons.slice(-1);
    expect(reason?.words).toBe('the target is not mended any more, since 2026-10-01');
  });

  test.each([
    [
      'blocked where its cover ended',
      { needsCover: true },
      { cover: { state: 'ended', until: '2026-10-15' } },
      'blocked',
      'its cover ended on 2026-10-15: it is not entitled to 7.4.12b',
    ],
    ['ready where cover is not asked for', {}, { cover: { state: 'none', until: null } }, 'ready', 'memory'],
    ['unknown where it tells no serial', { needsCover: true }, { cover: null }, 'unknown', '7.4.12b needs cover'],
    [
      'ready with cover',
      { needsCover: true },
      { cover: { state: 'ending', until: '2026-12-15' } },
      'ready',
      'covered until 2026-12-15',
    ],
    [
      'after its configuration is saved',
      {},
      { unsaved: 'not all of it is saved' },
      'ready after',
      'save its configuration first',
    ],
    ['after the work at it', {}, { maintenance: 'supplies' }, 'ready after', 'somebody works on it: supplies'],
    [
      'after those before it',
      {},
      { waits: 'waits for the try-out: 1 of 2 run 7.4.12b' },
      'ready after',
      'waits for the try-out',
    ],
    [
      'unknown where it answered long ago',
      {},
      { answeredDaysAgo: 9 },
      'unknown',
      'it answered last 9 days ago: ask it again before',
    ],
    ['unknown where it never answered', {}, { answeredDaysAgo: null }, 'unknown', 'it never answered'],
    ['ready where it answered this week', {}, { answeredDaysAgo: 6 }, 'ready', 'memory'],
  ] as const)('%s', (_, release, around, verdict, words) => {
    const catalogue = [entry('7.4.9'), entry('7.4.12b', release)];
    const judged = judgeReadiness(subject(), '7.4.12b', catalogue, naturalOrder, around);
    expect(judged.verdict).toBe(verdict);
    expect(judged.reasons.map((one) => one.words).join('; ')).toContain(words);
    for (const reason of judged.reasons) expect(reason.source).not.toBe('');
  });

  test('what is wrong with the target is told, whoever runs it: an open advisory, a review that is due', () => {
    const open = { number: 'KS-1', severity: 'high' as const, mendedIn: '7.6.1' };
    const around = {
      ...{ today: '2026-11-23', reviewOn: '2026-11-23' },
      advisories: { current: [open], target: [open, { ...open, number: 'KS-2' }] },
    };
    const of = (release: string) =>
      judgeReadiness(subject({ release }), '7.4.12b', [entry('7.4.12b')], naturalOrder, around).reasons;
    expect(of('7.4.12b').map(({ kind }) => kind)).toEqual(['current', 'targetAdvisory', 'targetReview']);
    expect(of('7.4.9').find(({ kind }) => kind === 'advisory')?.words).toBe(
      '7.4.9 has an open advisory, KS-1 (high, mended in 7.6.1)',
    );
    expect(of('7.4.9').find(({ kind }) => kind === 'targetAdvisory')).toMatchObject({
      ...{ needed: '7.6.1', have: 'KS-1, KS-2', source: 'advisories' },
      words: 'the target itself has 2 open advisories, first KS-1 (high, mended in 7.6.1)',
    });
  });

  test('the way leads by all releases that must be run, in their order', () => {
    const words = (release: string) =>
      judge({ release }, { through: ['7.4.2', '7.2.30'], minimumFrom: '7.0.9' }).reasons.find(
        ({ kind }) => kind === 'intermediate',
      )?.words;
    expect(words('6.9.1')).toBe('from 6.9.1 it must go by way of 7.0.9, 7.2.30 and 7.4.2');
    expect(words('7.2.30')).toBe('from 7.2.30 it must go to 7.4.2 first');
    expect(words('7.4.9')).toBeUndefined();
  });

  test.each([
    ['A1', 'blocked', 'hardware'],
    ['B2', 'ready', 'fits'],
    ['B10', 'ready', 'fits'],
    ['', 'unknown', 'unknown'],
  ])('hardware revision “%s” where B2 is needed: %s', (hardwareRevision, verdict, kind) => {
    const judged = judge({ hardwareRevision }, { hardware: [{ model: 'K-Access 48', revision: 'B2' }] });
    expect(judged.verdict).toBe(verdict);
    expect(judged.reasons.map((reason) => reason.kind)).toContain(kind);
    // of another model it says nothing
    expect(judge({ hardwareRevision }, { hardware: [{ model: 'K-Access 24', revision: 'B2' }] }).verdict).toBe('ready');
  });

  test('other parts go first; where none tells its release nothing is known', () => {
    const others = [{ component: 'management controller' as const, release: '3.11' }];
    const part = (release: string) => ({ kind: 'management controller' as const, name: '', release });
    expect(judge({ parts: [part('3.11')] }, { others }).verdict).toBe('ready');
    const behind = judge({ parts: [part('3.08')] }, { others });
    expect(behind.verdict).toBe('ready after');
    expect(behind.reasons.find(({ kind }) => kind === 'component')?.words).toBe(
      'management controller 3.08 must first go to 3.11',
    );
    expect(judge({}, { others }).verdict).toBe('unknown');
  });

  test('supervisors or members that run different releases are made one first, even where the system is there', () => {
    const member = (name: string, release: string) => ({ kind: 'stack member' as const, name, release });
    const parts = [member('unit 1', '7.4.12b'), member('unit 2', '7.4.9')];
    const mixed = judge({ release: '7.4.12b', parts });
    expect(mixed.verdict).toBe('ready after');
    expect(mixed.reasons.find(({ kind }) => kind === 'mixed')?.words).toBe(
      'its members of the stack run 7.4.9 and 7.4.12b: make them one first',
    );
    expect(judge({ release: '7.4.12b', parts: [member('unit 1', '7.4.12b')] }).verdict).toBe('already there');
  });

  test('too little flash altogether is not cleared away', () => {
    expect(judge({}, { minimumFlashBytes: 512 * MB }).verdict).toBe('blocked');
    expect(judge({ flashBytes: null }, { minimumFlashBytes: 512 * MB }).verdict).toBe('unknown');
  });

  test('releases stand as their scheme says', () => {
    const days = new ReleaseOrder({
      ...{ id: 'day', name: 'day', form: '<day:2>.<month:2>.<year:4>', train: [], weight: ['year', 'month', 'day'] },
      examples: [],
    });
    const catalogue = [entry('24.11.2025'), entry('04.02.2026')];
    expect(judgeReadiness(subject({ release: '24.11.2025' }), '04.02.2026', catalogue, days).verdict).toBe('ready');
    expect(judgeReadiness(subject({ release: '04.02.2026' }), '24.11.2025', catalogue, days).verdict).toBe(
      'already there',
    );
  });

  test('entries of another part are nobody’s business', () => {
    const bios = entry('7.4.12b', { component: 'BIOS', minimumMemoryBytes: 4096 * MB });
    expect(judgeReadiness(subject(), '7.4.12b', [bios]).verdict).toBe('unknown');
    expect(judgeReadiness(subject(), '7.4.12b', [bios, entry('7.4.12b')]).verdict).toBe('ready');
  });
});

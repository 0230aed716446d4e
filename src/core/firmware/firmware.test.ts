import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { judgeReadiness, type CatalogueRelease, type ReadinessSubject } from './readiness';
import { compareReleases } from './release';

const MB = 1024 ** 2;
const entry = (release: string, more: Partial<CatalogueRelease> = {}): CatalogueRelease => ({
  vendor: 'Kestrane',
  family: 'K-Access',
  release,
  published: '2026-06-16',
  minimumMemoryBytes: 384 * MB,
  neededFlashBytes: 96 * MB,
  minimumFrom: null,
  minimumBoot: null,
  excludedModels: [],
  image: '',
  ...more,
});
const subject = (more: Partial<ReadinessSubject> = {}): ReadinessSubject => ({
  vendor: 'Kestrane',
  family: 'K-Access',
  model: 'K-Access 48',
  release: '7.4.9',
  bootRelease: '3.2',
  memoryBytes: 512 * MB,
  flashBytes: 256 * MB,
  flashFreeBytes: 140 * MB,
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
});

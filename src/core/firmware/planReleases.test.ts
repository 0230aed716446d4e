import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { completeRelease } from './catalogue';
import { planReleases } from './planReleases';

const MB = 1024 ** 2;
const known = [
  completeRelease({
    ...{ vendor: 'Kestrane', family: 'K-Access', release: '7.4.9', published: '2025-11-04' },
    minimumMemoryBytes: 256 * MB,
  }),
];
const plan = (text: string) => {
  const [head = [], ...rows] = text.split('\n').map((one) => one.split('|').map((cell) => cell.trim()));
  return planReleases(
    head,
    rows.map((cells, at) => ({ line: at + 2, cells })),
    known,
  );
};

test('a new release with all that is told of it', () => {
  const { changes, mistakes } = plan(
    [
      'maker | family | release | published | memory | free flash | by way of | hardware | other parts | status | sha-256',
      `Kestrane | K-Access | 7.4.12b | 2026-06-16 | 384M | 96M | 7.2.30; 7.4.2 | K-Access 24 = B2 | boot code = 3.1 | suggested | ${'A'.repeat(64)}`,
    ].join('\n'),
  );
  expect(mistakes).toEqual([]);
  expect(changes).toHaveLength(1);
  expect(changes[0]).toMatchObject({
    before: null,
    after: {
      ...{ component: 'system', kind: 'maintenance', status: 'suggested' },
      ...{ minimumMemoryBytes: 384 * MB, neededFlashBytes: 96 * MB, through: ['7.2.30', '7.4.2'] },
      hardware: [{ model: 'K-Access 24', revision: 'B2' }],
      others: [{ component: 'boot code', release: '3.1' }],
      imageHash: 'a'.repeat(64),
    },
  });
});

test('what the file has no column for stays, what it leaves empty is empty; nothing new is no change', () => {
  const head = 'vendor | family | release | published';
  expect(plan(`${head}\nKestrane | K-Access | 7.4.9 | 2025-11-04`)).toMatchObject({ named: 1, changes: [] });
  const [withdrawn] = plan(`${head} | status\nKestrane | K-Access | 7.4.9 | 2025-11-04 | withdrawn`).changes;
  expect(withdrawn?.after).toMatchObject({ status: 'withdrawn', minimumMemoryBytes: 256 * MB });
  const [emptied] = plan(`${head} | memory\nKestrane | K-Access | 7.4.9 | 2025-11-04 |`).changes;
  expect(emptied?.after.minimumMemoryBytes).toBeNull();
  // of another part it is another release
  const [bios] = plan(`${head} | component\nKestrane | K-Access | 7.4.9 | 2025-11-04 | BIOS`).changes;
  expect(bios).toMatchObject({ before: null, after: { component: 'BIOS' } });
});

test.each([
  ['vendor | family | release', '', [1, '', 'No column “published”']],
  [
    'vendor | maker | family | release | published',
    '',
    [1, 'maker', 'says the same as “vendor”: one of them is enough'],
  ],
  [
    'vendor | family | release | published',
    'Kestrane | K-Access | 7.5 beta | 2026-11-01',
    [2, 'release', 'A release has digits, letters and . _ - only'],
  ],
  [
    'vendor | family | release | published',
    'Kestrane | K-Access | 7.5 | last week',
    [2, 'published', 'Write the day like 2026-11-23'],
  ],
  [
    'vendor | family | release | published | memory',
    'Kestrane | K-Access | 7.5 | 2026-11-01 | much',
    [2, 'memory', '“much” is not a size like 512M or 2G'],
  ],
  [
    'vendor | family | release | published | hardware',
    'Kestrane | K-Access | 7.5 | 2026-11-01 | B2',
    [2, 'hardware', '“B2” is not as model = revision, with commas between several'],
  ],
  [
    'vendor | family | release | published | status',
    'Kestrane | K-Access | 7.5 | 2026-11-01 | good',
    [2, 'status', 'One of suggested, supported, withdrawn, ended'],
  ],
  [
    'vendor | family | release | published',
    'Kestrane | K-Access | 7.5 | 2026-11-01 | more',
    [2, '', 'has 5 cells, the head has 4'],
  ],
  [
    'vendor | family | release | published',
    'Kestrane | K-Access | 7.5 | 2026-11-01\nKestrane | K-Access | 7.5 | 2026-11-02',
    [3, '', 'names the same release as line 2'],
  ],
])('a mistake is told at its place, and nothing is taken: %s', (head, lines, [line, column, message]) => {
  const found = plan(lines ? `${head}\n${lines}` : head);
  expect(found.changes).toEqual([]);
  expect(found.mistakes[0]).toEqual({ line, column, message });
});

test('any table is taken or refused in words', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.oneof(fc.constantFrom('vendor', 'family', 'release', 'published', 'hardware', 'memory'), fc.string()),
        {
          maxLength: 8,
        },
      ),
      fc.array(fc.array(fc.string(), { maxLength: 9 }), { maxLength: 4 }),
      (head, rows) => {
        const { changes, mistakes } = planReleases(
          head,
          rows.map((cells, at) => ({ line: at + 2, cells })),
          known,
        );
        if (mistakes.length > 0) expect(changes).toEqual([]);
        for (const { message } of mistakes) expect(message.length).toBeGreaterThan(3);
      },
    ),
  );
});

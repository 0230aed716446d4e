import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { stringify } from 'yaml';
import { planReleases } from '../../core/firmware/planReleases';
import { CsvError } from './csvFile';
import { isList, readList, readTable } from './listFile';

const list = `# what we run
- family: K-Access
  release: 7.4.12b
  through: [7.2.30, "7.4.2, the long way"]
  hardware:
    - { model: K-Access 24, revision: B2 }
- family: K-Ring
  size:
    bytes: 512
  fine: true
  gone: null
`;

test('entries become lines, names become columns, each at the line it begins at', () => {
  const { head, lines } = readTable(list);
  expect(head).toEqual(['family', 'release', 'through', 'hardware', 'size.bytes', 'fine', 'gone']);
  expect(lines.map(({ line }) => line)).toEqual([2, 7]);
  expect(lines.map(({ cells }) => cells)).toEqual([
    ['K-Access', '7.4.12b', '7.2.30\n7.4.2, the long way\n', 'K-Access 24 = B2\n', '', '', ''],
    ['K-Ring', '', '', '', '512', 'yes', ''],
  ]);
});

test('JSON and YAML say the same; a table stays a table', () => {
  const names = fc.stringMatching(/^[a-z]{1,8}$/);
  const value = fc.oneof(
    fc.string({ maxLength: 20 }),
    fc.integer(),
    fc.boolean(),
    fc.constant(null),
    fc.array(fc.string({ minLength: 1, maxLength: 8 }), { maxLength: 3 }),
  );
  fc.assert(
    fc.property(
      fc.array(fc.dictionary(names, value, { minKeys: 1, maxKeys: 5 }), { minLength: 1, maxLength: 6 }),
      (entries) => {
        const [json, yaml] = [JSON.stringify(entries), stringify(entries)].map(readTable);
        expect(json?.head).toEqual(yaml?.head);
        expect(json?.lines.map(({ cells }) => cells)).toEqual(yaml?.lines.map(({ cells }) => cells));
      },
    ),
  );
  expect(isList('family,release\nK-Access,7.4.12b\n')).toBe(false);
  expect(readTable('family,release\nK-Access,7.4.12b\n').head).toEqual(['family', 'release']);
});

test.each([
  ['[{"a": 1},\n {"b": }', 2],
  ['- a: 1\n- just words', 2],
  ['{"a": 1}', 1],
  ['- a: "never closed', 1],
])('%j is told at its line', (text, line) => {
  let told: unknown;
  try {
    readList(text);
  } catch (error) {
    told = error;
  }
  expect(told).toBeInstanceOf(CsvError);
  expect((told as CsvError).line).toBe(line);
});

test('anchors that multiply, and whatever else comes, end soon and are refused with words', () => {
  const bomb = [
    '- a: &a [x,x,x,x,x,x,x,x,x]',
    ...'bcdefgh'.split('').map((name, at) => `  ${name}: &${name} [${Array(9).fill(`*${'abcdefg'[at]}`).join(',')}]`),
  ].join('\n');
  expect(() => readList(bomb)).toThrow(CsvError);
  fc.assert(
    fc.property(fc.string(), (text) => {
      try {
        readList(text);
      } catch (error) {
        expect(error).toBeInstanceOf(CsvError);
      }
    }),
  );
});

test('releases come in from a list as they went out as one', () => {
  const { head, lines } = readTable(
    JSON.stringify([
      {
        ...{ vendor: 'Kestrane', family: 'K-Access', release: '7.4.12b', published: '2026-06-16' },
        ...{ minimumMemoryBytes: 402653184, needsCover: true, through: ['7.4.2'], fixes: ['a frame, or two'] },
        ...{ hardware: ['K-Access 24 = B2'], others: ['boot code = 3.1'], minimumFrom: null, status: 'suggested' },
      },
    ]),
  );
  const { mistakes, changes } = planReleases(head, lines, []);
  expect(mistakes).toEqual([]);
  expect(changes[0]?.after).toMatchObject({
    ...{ minimumMemoryBytes: 402653184, needsCover: true, through: ['7.4.2'], fixes: ['a frame, or two'] },
    ...{ hardware: [{ model: 'K-Access 24', revision: 'B2' }], others: [{ component: 'boot code', release: '3.1' }] },
    ...{ minimumFrom: null, status: 'suggested' },
  });
});

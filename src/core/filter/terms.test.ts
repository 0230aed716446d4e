import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { FilterNode } from './filterNode';
import { parseFilter } from './syntax';
import { chosenSpan, chosenTerm, chosenTerms, withOneMore, withSpan, withTerm } from './terms';
import { writtenFilter } from './written';

test.each([
  ['', 'site', 'LQY', 'site=LQY'],
  ['role=switch', 'site', 'LQY', 'role=switch site=LQY'],
  ['site=RPW role=switch', 'site', 'LQY', 'role=switch site=LQY'],
  ['site="Old Foundry" role=switch', 'site', null, 'role=switch'],
  ['site=RPW', 'site', null, ''],
  ['name:core', 'model', 'K-Core 8', 'name:core model="K-Core 8"'],
  ['maker:x', 'maker', '', 'maker:x maker=""'],
  ['site=RPW or site=LQY', 'role', 'switch', '(site=RPW or site=LQY) role=switch'],
  ['(site=RPW or site=LQY) role=switch', 'role', null, 'site=RPW or site=LQY'],
  ['(site=RPW or site=LQY) role=switch', 'site', 'CHD', 'role=switch site=CHD'],
])('%s with %s %s is %s', (where, field, value, expected) => {
  expect(withTerm(where, field, value)).toBe(expected);
});

test('only what every row must fit is chosen', () => {
  expect([
    chosenTerm('role=switch site="Old Foundry"', 'site'),
    chosenTerm('site=RPW or site=LQY', 'site'),
    chosenTerm('-site=RPW', 'site'),
    chosenTerm('site!=RPW', 'site'),
    chosenTerm('site=', 'site'),
    chosenTerm('', 'site'),
  ]).toEqual(['Old Foundry', null, null, null, null, null]);
});

test('what was put in is chosen, and taken out leaves what was there', () => {
  const value = fc.string({ maxLength: 8 }).filter((text) => !text.includes('"'));
  fc.assert(
    fc.property(fc.constantFrom('', 'core', 'role=switch', 'a or b', '(a or b) -c'), value, (where, given) => {
      const narrowed = withTerm(where, 'site', given);
      expect(chosenTerm(narrowed, 'site')).toBe(given);
      expect(withTerm(narrowed, 'site', null)).toBe(where);
    }),
  );
});

test('one value more is an alternative, once more takes it back', () => {
  const both = withOneMore(withOneMore('role=switch', 'site', 'LQY'), 'site', 'Old Foundry');
  expect([
    both,
    chosenTerms(both, 'site'),
    withOneMore(both, 'site', 'LQY'),
    withOneMore(withOneMore(both, 'site', 'LQY'), 'site', 'Old Foundry'),
  ]).toEqual([
    'role=switch (site=LQY or site="Old Foundry")',
    ['LQY', 'Old Foundry'],
    'role=switch site="Old Foundry"',
    'role=switch',
  ]);
});

test('a tree that is written reads back as it was', () => {
  const bare = (node: FilterNode): unknown =>
    node.kind === 'term'
      ? [node.field, node.relation, node.value]
      : node.kind === 'not'
        ? { not: bare(node.of) }
        : { [node.kind]: node.of.map(bare) };
  const term = fc
    .record({
      kind: fc.constant('term' as const),
      field: fc.constantFrom('site', 'module.class', null),
      relation: fc.constantFrom('=' as const, 'contains' as const, '!=' as const),
      value: fc.constantFrom('a', 'or', '-x', 'a b', '02:4b', '(x)'),
      at: fc.constant(0),
    })
    .map((one) => (one.field === null ? { ...one, relation: 'contains' as const } : one));
  const { tree } = fc.letrec<{ tree: FilterNode }>((tie) => ({
    tree: fc.oneof(
      { maxDepth: 3 },
      term,
      fc.record({ kind: fc.constant('not' as const), of: tie('tree') }),
      fc.record({
        kind: fc.constantFrom('all' as const, 'any' as const),
        of: fc.array(tie('tree'), { minLength: 2, maxLength: 3 }),
      }),
    ) as fc.Arbitrary<FilterNode>,
  }));
  fc.assert(
    fc.property(tree, (node) => {
      const text = writtenFilter(node);
      expect([text, bare(parseFilter(text))]).toEqual([text, bare(node)]);
    }),
    { numRuns: 1000 },
  );
});

test('a span of a field takes the place of what was said of it', () => {
  const month = withSpan('role=switch firstSeen>=2026-01-01', 'firstSeen', '2026-10-01', '2026-11-01');
  expect([
    month,
    chosenSpan(month, 'firstSeen'),
    withSpan(month, 'firstSeen', null, '2026-10-01'),
    withSpan(month, 'firstSeen', null, null),
  ]).toEqual([
    'role=switch firstSeen>=2026-10-01 firstSeen<2026-11-01',
    { from: '2026-10-01', before: '2026-11-01' },
    'role=switch firstSeen<2026-10-01',
    'role=switch',
  ]);
});

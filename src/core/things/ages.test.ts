import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compileFilter } from '../filter/predicate';
import { parseFilter } from '../filter/syntax';
import { withSpan } from '../filter/terms';
import { ageSpans } from './ages';

test('every row is in one span, which is the rows that the filter of the span holds', () => {
  const now = Date.UTC(2026, 10, 26, 6, 30);
  const moment = fc.oneof(
    fc.integer({ min: 0, max: 800 * 86_400 }).map((seconds) => new Date(now - seconds * 1000).toISOString()),
    fc.constant(''),
  );
  fc.assert(
    fc.property(fc.array(moment, { maxLength: 30 }), (seen) => {
      const spans = ageSpans(
        seen.map((value) => ({ value, count: 1 })),
        new Date(now).toISOString(),
      );
      expect(spans.reduce((sum, { count }) => sum + count, 0)).toBe(seen.filter(Boolean).length);
      for (const { from, before, count } of spans) {
        const holds = compileFilter<{ seen: string }>(parseFilter(withSpan('', 'seen', from, before)), [
          { name: 'seen', kind: 'date' },
        ]);
        expect([from, before, seen.filter((value) => holds({ seen: value })).length]).toEqual([from, before, count]);
      }
    }),
  );
});

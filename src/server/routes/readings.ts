import type { Schema } from 'yup';
import { FilterError } from '../../core/filter/syntax';
import { readingRuleSchema, type ReadingRule } from '../../core/signatures/reading';
import { recordAct } from '../../store/people';
import { meantBy, saveReadingRule } from '../../store/readingRules';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { readingList } from '../readings';

export const GET = route('viewer', null, ({ store }) => readingList(store));

/** Saves a reading; one of the same name is taken the place of. Read from the next survey on. */
export const POST = route(
  'administrator',
  readingRuleSchema as unknown as Schema<ReadingRule>,
  ({ store, person, body }) => {
    try {
      meantBy(store.db, body);
    } catch (error) {
      if (!(error instanceof FilterError)) throw error;
      throw invalid([
        {
          path: 'where',
          message: `${error.message}; expected ${error.expected}`,
          at: error.at,
          expected: error.expected,
        },
      ]);
    }
    saveReadingRule(store.db, body);
    recordAct(store.db, person.name, 'saved a reading', body.name);
    return { name: body.name };
  },
);

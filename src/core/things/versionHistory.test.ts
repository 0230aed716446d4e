import { expect, test } from '@jest/globals';
import { changedFields } from '../estate/difference';
import { versionHistory } from './versionHistory';

const version = (fromSurvey: number, untilSurvey: number | null, content: object) => ({
  fromSurvey,
  untilSurvey,
  content,
});
const told = (upTo: number, ...versions: ReturnType<typeof version>[]) =>
  versionHistory(versions, upTo, (before, now) =>
    changedFields({ ...before }, { ...now }).filter(({ field }) => field !== 'order'),
  ).map(({ survey, kind, field, before, after }) =>
    [survey, kind, field, before, after].filter((part) => part !== '' && part !== null).join(' '),
  );

test('tells first sight, changes, gaps and the end, newest first, up to the moment viewed', () => {
  const all = [
    version(1, 3, { port: '3', order: 1 }),
    version(3, 5, { port: '7', order: 2 }),
    version(6, 8, { port: '7', order: 2 }),
  ];
  expect(told(9, ...all)).toEqual(['8 gone', '6 again', '5 gone', '3 changed port 3 7', '1 seen']);
  expect(told(4, ...all)).toEqual(['3 changed port 3 7', '1 seen']);
  expect(told(2, ...all)).toEqual(['1 seen']);
  expect(told(5)).toEqual([]);
});

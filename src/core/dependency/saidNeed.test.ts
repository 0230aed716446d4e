import { expect, test } from '@jest/globals';
import { isReviewDue, saidNeedSchema, thingOfToken } from './saidNeed';

const need = {
  of: 'device:12',
  from: ['device:3', 'device:4'],
  atLeast: 1,
  kind: 'powered by',
  note: 'walked along the cables',
  reviewOn: '2027-03-01',
};
const mistakes = (body: object): string[] => {
  try {
    saidNeedSchema.validateSync(body, { abortEarly: false });
    return [];
  } catch (error) {
    return (error as { errors: string[] }).errors;
  }
};

test('what is said needs a reason, things, and no more of them than there are', () => {
  expect(mistakes(need)).toEqual([]);
  expect(mistakes({ ...need, reviewOn: null })).toEqual([]);
  expect(mistakes({ ...need, note: '', from: [], reviewOn: 'soon' }).sort()).toEqual(
    ['A day, as 2026-12-24', 'Name at least one thing that it rests on', 'Say how you know'].sort(),
  );
  expect(mistakes({ ...need, atLeast: 3 })).toEqual(['It rests on 2: no more can be needed']);
});

test('tokens name things by kind and id; a review is due from its day on', () => {
  expect(thingOfToken('service:12 tcp/443')).toEqual({ kind: 'service', id: '12 tcp/443' });
  expect(thingOfToken('endpoint:02:00:5e:00:00:01')).toEqual({ kind: 'endpoint', id: '02:00:5e:00:00:01' });
  for (const none of ['site:RPW', 'device:', ':12', 'rpw-ring', '']) expect(thingOfToken(none)).toBeNull();
  expect(['2027-02-28', '2027-03-01', '2027-03-02'].map((day) => isReviewDue(need, day))).toEqual([false, true, true]);
  expect(isReviewDue({ reviewOn: null }, '2030-01-01')).toBe(false);
});

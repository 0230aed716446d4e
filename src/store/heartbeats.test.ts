import { expect, test } from '@jest/globals';
import { stillLoop } from './heartbeats';

const now = 1_000_000;

test('a loop that does not turn any more is named, however well the others do', () => {
  const turned = { 'lane surveys': now - 100_000, calendar: now - 500, 'lane hands': now - 100 };
  const beats = { worker: '1-a', turned };
  expect(stillLoop(beats, { since: 0, now })).toBe('lane surveys turned last 100 s ago');
  expect(stillLoop({ worker: '1-a', turned: { ...turned, 'lane surveys': now - 1000 } }, { since: 0, now })).toBeNull();
  // what was started just now need not have turned
  expect(stillLoop(beats, { since: now - 20_000, now })).toBeNull();
  expect(stillLoop(beats, { since: 0, now, afterMs: 200_000 })).toBeNull();
});

test('one that was never heard of is told as well', () => {
  expect(stillLoop(null, { since: now - 100_000, now })).toBe('nothing was heard of it for 100 s');
  expect(stillLoop(null, { since: now - 1000, now })).toBeNull();
});

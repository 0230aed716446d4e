import { expect, test } from '@jest/globals';
import { scopeDefaults } from '../core/estate/scope';
import { probesAtOnce } from './survey/probesAtOnce';
import { untilCancelled } from './untilCancelled';

const never = new Promise<void>(() => undefined);

test('work that nobody waits for any more holds nobody up', async () => {
  let wanted = true;
  const waiting = untilCancelled(never, () => !wanted);
  wanted = false;
  await waiting;
  await untilCancelled(Promise.resolve(), () => false);
});

test('what fails is told, in the work and in the question', async () => {
  await expect(untilCancelled(Promise.reject(new Error('broken')), () => false)).rejects.toThrow('broken');
  await expect(
    untilCancelled(never, () => {
      throw new Error('power cut');
    }),
  ).rejects.toThrow('power cut');
});

test('who says how many at once means the silent ones too', () => {
  expect([probesAtOnce(8), probesAtOnce(scopeDefaults.concurrency) > 1000]).toEqual([8, true]);
});

import { expect, test } from '@jest/globals';
import { Semaphore } from './semaphore';

test('never more than there are slots, in the order of asking, none lost', async () => {
  const slots = new Semaphore(2);
  const order: number[] = [];
  let now = 0;
  let most = 0;
  await Promise.all(
    [1, 2, 3, 4, 5].map(async (name) => {
      const free = await slots.take();
      most = Math.max(most, ++now);
      order.push(name);
      await new Promise((resolve) => setTimeout(resolve, 3));
      now--;
      free();
      free();
    }),
  );
  expect([most, order]).toEqual([2, [1, 2, 3, 4, 5]]);
  const [first, second] = await Promise.all([slots.take(), slots.take()]);
  first();
  second();
});

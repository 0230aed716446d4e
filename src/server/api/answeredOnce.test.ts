import { describe, expect, test } from '@jest/globals';
import { AnsweredOnce } from './answeredOnce';

const given = { who: 'person 7', key: 'press-0001', request: 'POST /scopes' };

describe('what is sent again because its answer was lost', () => {
  const counting = () => {
    let done = 0;
    return { work: async () => Response.json({ done: ++done }), count: () => done };
  };

  test('is done once, and gets the same answer', async () => {
    const { work, count } = counting();
    const once = new AnsweredOnce();
    const answers = await Promise.all([once.answer(given, work), once.answer(given, work)]);
    answers.push(await once.answer(given, work));
    expect(await Promise.all(answers.map((answer) => answer.json()))).toEqual([{ done: 1 }, { done: 1 }, { done: 1 }]);
    expect(count()).toBe(1);
  });
  test('without a key, by somebody else or under another key it is another request', async () => {
    const { work, count } = counting();
    const once = new AnsweredOnce();
    for (const other of [
      given,
      { ...given, key: null },
      { ...given, who: 'person 8' },
      { ...given, key: 'press-0002' },
    ])
      await once.answer(other, work);
    expect(count()).toBe(4);
  });
  test('a key belongs to one request, and is well formed', async () => {
    const { work } = counting();
    const once = new AnsweredOnce();
    await once.answer(given, work);
    await expect(once.answer({ ...given, request: 'DELETE /scopes/1' }, work)).rejects.toThrow('Key used before');
    await expect(once.answer({ ...given, key: 'a b' }, work)).rejects.toThrow('No key');
  });
  test('what failed inside, or threw, may be tried again; a mistake of the request stays one', async () => {
    const once = new AnsweredOnce();
    let calls = 0;
    const failing = async () => Response.json({}, { status: ++calls === 1 ? 500 : 422 });
    expect((await once.answer(given, failing)).status).toBe(500);
    expect((await once.answer(given, failing)).status).toBe(422);
    expect((await once.answer(given, failing)).status).toBe(422);
    expect(calls).toBe(2);
    const other = { ...given, key: 'press-0003' };
    await expect(once.answer(other, () => Promise.reject(new Error('gone')))).rejects.toThrow('gone');
    expect((await once.answer(other, counting().work)).status).toBe(200);
  });
  test('is forgotten after ten minutes', async () => {
    const { work, count } = counting();
    const once = new AnsweredOnce();
    await once.answer(given, work, 0);
    await once.answer(given, work, 9 * 60_000);
    await once.answer(given, work, 11 * 60_000);
    expect(count()).toBe(2);
  });
});

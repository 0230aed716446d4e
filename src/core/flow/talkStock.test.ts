import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { TalkStock, type StockHearing, type TalkRows } from './talkStock';
import { TalkUntil } from './talkUntil';

const hearing = (point: string, firstSeen: number, packets: number): StockHearing => ({
  point,
  events: 1,
  packets,
  octetsToServer: packets * 100,
  octetsToClient: packets * 50,
  firstSeen,
  lastSeen: firstSeen + 7200,
  hours: [Math.floor(firstSeen / 3600)],
});
const told = (stock: TalkRows) =>
  Array.from(stock.conversations(), (conversation, row) => [
    conversation,
    stock.column('port')[row],
    stock.pointSets[stock.column('points')[row] ?? 0],
    stock.column('daysLow')[row],
    stock.count('packets')[row],
    stock.count('firstSeen')[row],
    stock.rowOf(conversation) === row,
  ]);

test('what was heard by a moment is what a stock of that alone would hold, and stays so', () => {
  const conversations = fc.uniqueArray(
    fc.record({
      number: fc.integer({ min: 1, max: 4000 }),
      first: fc.integer({ min: 0, max: 4_000_000 }),
      packets: fc.integer({ min: 1, max: 99 }),
      point: fc.constantFrom('mirror', 'edge'),
    }),
    { selector: ({ number }) => number, maxLength: 60 },
  );
  fc.assert(
    fc.property(conversations, fc.integer({ min: 0, max: 4_000_000 }), (all, until) => {
      const [whole, part] = [new TalkStock(), new TalkStock()];
      for (const { number, first, packets, point } of all)
        for (const stock of first <= until ? [whole, part] : [whole])
          stock.set(number, { client: 1, server: 2, port: number, protocol: 6, basis: 0 }, [
            hearing(point, first, packets),
          ]);
      const then = new TalkUntil(whole, until);
      expect(told(then)).toEqual(told(part));
      for (const { number, first } of all) expect(then.rowOf(number) >= 0).toBe(first <= until);
      expect(Array.from(then.places(whole.size))).toEqual(
        Array.from(whole.conversations(), (number) => then.rowOf(number) + 1),
      );
      // what comes after it was asked for is none of it
      whole.set(5000, { client: 1, server: 2, port: 9, protocol: 6, basis: 0 }, [hearing('another', 5, 1)]);
      expect(then.rowOf(5000)).toBe(-1);
      expect(told(then)).toEqual(told(part));
    }),
  );
});

test('what is written down again is told from a mark on, each row once', () => {
  const stock = new TalkStock();
  const ends = { client: 1, server: 2, port: 9, protocol: 6, basis: 0 };
  const write = (number: number) => stock.set(number, ends, [hearing('mirror', 5, 1)]);
  [7, 8, 9].forEach(write);
  const { mark } = stock;
  expect(stock.rewrittenSince(mark)).toEqual(new Uint32Array(0));
  [9, 7, 10, 9].forEach(write);
  expect([...(stock.rewrittenSince(mark) ?? [])]).toEqual([stock.rowOf(9), stock.rowOf(7)]);
  expect([...(stock.rewrittenSince(stock.mark - 1) ?? [])]).toEqual([stock.rowOf(9)]);
});

import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dayAfter, daysBetween, isDay } from '../values/day';
import type { Contract } from './contract';
import { coverBy, CoverIndex, endingDays, worstCover } from './cover';

const today = '2026-11-26';
const contract = (more: Partial<Contract> = {}): Contract => ({
  number: 'C-1',
  kind: 'contract',
  supplier: '',
  level: '',
  contact: '',
  from: '2026-01-01',
  until: '2027-11-26',
  parts: true,
  note: '',
  serials: ['S1'],
  ...more,
});
const stateOf = (...contracts: Contract[]) => {
  const { state, until } = coverBy(contracts, today);
  return [state, until];
};

describe('cover of a serial on a day', () => {
  test('is covered on the first and on the last day, and on no other side of them', () => {
    expect(stateOf(contract({ from: today, until: today }))).toEqual(['ending', today]);
    expect(stateOf(contract({ until: '2026-11-25' }))).toEqual(['ended', '2026-11-25']);
    expect(stateOf(contract({ from: '2026-11-27' }))).toEqual(['coming', '2027-11-26']);
    expect(stateOf()).toEqual(['none', null]);
  });
  test('without a beginning or an end lasts', () => {
    expect(stateOf(contract({ from: null, until: null }))).toEqual(['covered', null]);
  });
  test('ends within thirty days, unless something follows it without a gap', () => {
    expect(stateOf(contract({ until: dayAfter(today, endingDays) }))[0]).toBe('ending');
    expect(stateOf(contract({ until: dayAfter(today, endingDays + 1) }))[0]).toBe('covered');
    const ending = contract({ until: '2026-12-08' });
    expect(stateOf(ending, contract({ from: '2026-12-09', until: '2027-12-08' }))).toEqual(['covered', '2027-12-08']);
    expect(stateOf(ending, contract({ from: '2026-12-10', until: '2027-12-08' }))).toEqual(['ending', '2026-12-08']);
    expect(
      stateOf(
        ending,
        contract({ from: '2027-06-01', until: '2028-12-08' }),
        contract({ from: '2026-12-01', until: '2027-05-31' }),
      ),
    ).toEqual(['covered', '2028-12-08']);
  });
  test('has ended where one ended and another is yet to come', () => {
    expect(stateOf(contract({ until: '2026-10-01' }), contract({ from: '2026-12-01' }))).toEqual([
      'ended',
      '2026-10-01',
    ]);
  });
  test('never ends before the last of the contracts in force, and names all that name it', () => {
    const day = fc.integer({ min: -400, max: 400 }).map((days) => dayAfter(today, days));
    const contracts = fc.array(
      fc
        .tuple(fc.option(day), fc.option(fc.nat(500)))
        .map(([from, length]) => contract({ from, until: length === null ? null : dayAfter(from ?? today, length) })),
      { minLength: 1, maxLength: 6 },
    );
    fc.assert(
      fc.property(contracts, (all) => {
        const { state, until, by } = coverBy(all, today);
        const inForce = all.filter((one) => (one.from ?? '') <= today && (one.until === null || one.until >= today));
        expect(by).toHaveLength(all.length);
        expect(inForce.length > 0).toBe(state === 'covered' || state === 'ending');
        for (const one of inForce) expect(until === null || (one.until !== null && until >= one.until)).toBe(true);
        expect(state === 'ending').toBe(
          inForce.length > 0 && until !== null && daysBetween(today, until) <= endingDays,
        );
      }),
    );
  });
});

describe('cover of parts and devices', () => {
  const index = new CoverIndex(
    [
      contract({ serials: ['chassis-1'] }),
      contract({ number: 'C-2', until: '2026-10-11', serials: ['SUPPLY-2'] }),
      contract({ number: 'L-1', kind: 'licence', parts: false, serials: ['CHASSIS-2'] }),
    ],
    today,
  );
  test('a part is covered with the chassis that holds it, unless something names it itself', () => {
    expect(index.ofPart('SUPPLY-1', ['CHASSIS-1'])).toMatchObject({ state: 'covered', by: [{ number: 'C-1' }] });
    expect(index.ofPart('supply-2', ['CHASSIS-1'])).toMatchObject({ state: 'ended', by: [{ number: 'C-2' }] });
  });
  test('what covers a chassis alone does not cover what it holds; an outer chassis may', () => {
    expect(index.ofPart('FAN-1', ['CHASSIS-2']).state).toBe('none');
    expect(index.ofPart('FAN-1', ['CHASSIS-2', 'CHASSIS-1']).state).toBe('covered');
  });
  test('a stack is covered as its worst unit is', () => {
    const covers = ['CHASSIS-1', 'SUPPLY-2', 'unknown'].map((serial) => index.ofSerial(serial));
    expect(worstCover(covers).state).toBe('ended');
    expect(worstCover(covers.filter(({ state }) => state !== 'ended')).state).toBe('none');
    expect(worstCover([coverBy([contract({ until: '2028-01-01' })], today), coverBy([contract()], today)]).until).toBe(
      '2027-11-26',
    );
    expect(worstCover([]).state).toBe('none');
  });
});

test('days are those of the calendar', () => {
  expect(['2026-02-28', '2024-02-29', '2026-02-29', '2026-2-8', '26-02-08', ''].map(isDay)).toEqual([
    true,
    true,
    false,
    false,
    false,
    false,
  ]);
  expect([
    daysBetween('2026-02-28', '2026-03-01'),
    daysBetween('2026-03-01', '2024-03-01'),
    dayAfter('2026-12-31', 1),
  ]).toEqual([1, -730, '2027-01-01']);
});

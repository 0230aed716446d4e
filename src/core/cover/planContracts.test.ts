import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { contractKinds, contractMistakes, serialKey, type Contract } from './contract';
import { contractDifference, planContracts, sameContract } from './planContracts';

const head = ['Number', 'Kind', 'Supplier', 'Until', 'Serial', 'Price'];
const plan = (rows: string[][], known: Contract[] = [], names = head) =>
  planContracts(
    names,
    rows.map((cells, at) => ({ line: at + 2, cells })),
    known,
  );

describe('a file of contracts', () => {
  test('has a line for each serial, or several serials in one cell; what one line leaves empty stands in another', () => {
    const { contracts, changes, mistakes, passedOver } = plan([
      ['KS-1', 'contract', 'Kestrane Service', '2027-01-31', 'A1', '400'],
      ['ks-1', '', '', '', 'A2; A3', ''],
      ['L-9', 'Licence', '', '', 'B1', ''],
    ]);
    expect(mistakes).toEqual([]);
    expect([contracts, passedOver]).toEqual([2, ['Price']]);
    expect(changes.map(({ after }) => after)).toEqual([
      {
        number: 'KS-1',
        kind: 'contract',
        supplier: 'Kestrane Service',
        level: '',
        contact: '',
        from: null,
        until: '2027-01-31',
        parts: true,
        note: '',
        serials: ['A1', 'A2', 'A3'],
      },
      {
        number: 'L-9',
        kind: 'licence',
        supplier: '',
        level: '',
        contact: '',
        from: null,
        until: null,
        parts: false,
        note: '',
        serials: ['B1'],
      },
    ]);
  });
  test('is refused as a whole, each mistake at its line and column', () => {
    const { changes, mistakes } = plan([
      ['KS-1', 'contract', 'Kestrane Service', '31.1.2027', 'A1', ''],
      ['KS-1', 'warranty', '', '', 'A1', ''],
      ['', 'contract', '', '', 'A4', ''],
      ['KS-3', 'lease', '', '2027-02-30', '', ''],
      ['KS-4', '', '', '', 'A5', '', 'more'],
      ['KS-5', '', '', '', 'A6 A6', ''],
    ]);
    expect(changes).toEqual([]);
    expect(mistakes).toEqual([
      { line: 2, column: 'Until', message: '“31.1.2027” is no day like 2026-11-23' },
      { line: 3, column: 'Kind', message: '“warranty”, but line 2 says “contract” of KS-1' },
      { line: 3, column: 'Serial', message: 'A1 is under KS-1 in line 2 already' },
      { line: 4, column: 'Number', message: 'says of no contract which it is' },
      { line: 5, column: 'Kind', message: '“lease” is none of warranty, contract, licence' },
      { line: 5, column: 'Serial', message: 'names no serial' },
      { line: 5, column: 'Until', message: '“2027-02-30” is no day like 2026-11-23' },
      { line: 6, column: '', message: 'has 7 cells, the head has 6' },
      { line: 7, column: 'Serial', message: 'A6 is there twice' },
      { line: 7, column: 'Kind', message: 'does not say what KS-5 is: warranty, contract, licence' },
    ]);
  });
  test('without the columns it needs, or with two for one, is refused at its head', () => {
    expect(plan([['x']], [], ['Serial']).mistakes.map(({ message }) => message)).toEqual([
      'No column “number”',
      'No column “kind”',
      'No column “until”',
    ]);
    expect(plan([], [], ['number', 'kind', 'until', 'serial', 'serials']).mistakes).toEqual([
      { line: 1, column: 'serials', message: 'says the same as “serial”: one of them is enough' },
    ]);
  });
  test('changes what it names and leaves the rest', () => {
    const known = plan([
      ['KS-1', 'contract', '', '2027-01-31', 'A1 A2', ''],
      ['KS-2', 'contract', '', '', 'B1', ''],
    ]).changes.map(({ after }) => after);
    const again = plan([['ks-1', 'contract', '', '2028-01-31', 'a1 A3', '']], known);
    expect(again.contracts).toBe(1);
    expect(again.changes.map(contractDifference)).toEqual([
      [
        { field: 'number', before: 'KS-1', after: 'ks-1' },
        { field: 'until', before: '2027-01-31', after: '2028-01-31' },
        { field: 'serials', before: 'A2', after: 'A3' },
      ],
    ]);
    expect(plan([['KS-2', 'contract', '', '', 'b1', '']], known).changes).toEqual([]);
  });
  test('of any contracts comes back as it was written, one line a serial, in any order of lines', () => {
    const word = fc.stringMatching(/^[A-Za-z0-9][A-Za-z0-9 ,;"/-]{0,14}[A-Za-z0-9]$/);
    const serial = fc.stringMatching(/^[A-Z0-9][A-Z0-9/.-]{1,12}$/);
    const day = fc.option(
      fc
        .date({ min: new Date('2020-01-01'), max: new Date('2035-01-01'), noInvalidDate: true })
        .map((date) => date.toISOString().slice(0, 10)),
    );
    const contract: fc.Arbitrary<Contract> = fc
      .record({
        number: word,
        kind: fc.constantFrom(...contractKinds),
        supplier: word,
        level: word,
        contact: word,
        from: day,
        until: day,
        parts: fc.boolean(),
        note: word,
        serials: fc.uniqueArray(serial, { minLength: 1, maxLength: 5, selector: serialKey }),
      })
      .filter((one) => contractMistakes(one).length === 0);
    const names = ['number', 'kind', 'supplier', 'level', 'contact', 'from', 'until', 'parts', 'note', 'serials'];
    fc.assert(
      fc.property(
        fc.uniqueArray(contract, { minLength: 1, maxLength: 4, selector: ({ number }) => number.toLowerCase() }),
        fc.boolean(),
        (contracts, backwards) => {
          const rows = contracts.flatMap((one) =>
            one.serials.map((each) => [
              one.number,
              one.kind,
              one.supplier,
              one.level,
              one.contact,
              one.from ?? '',
              one.until ?? '',
              one.parts ? 'yes' : 'no',
              one.note,
              each,
            ]),
          );
          const { changes, mistakes } = plan(backwards ? rows.reverse() : rows, [], names);
          expect(mistakes).toEqual([]);
          expect(changes).toHaveLength(contracts.length);
          for (const { after } of changes) expect(contracts.some((one) => sameContract(one, after))).toBe(true);
        },
      ),
    );
  });
});

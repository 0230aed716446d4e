import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { tableRows } from '../../core/mib/table';
import { compareOids, isBelow } from '../../core/values/oid';
import { AnsweredColumn, JoinedColumns } from './tableColumns';
import { compareNames, ObjectName } from './wire/objectName';
import { BerWriter } from './wire/berWriter';
import { AnsweredVariable } from './wire/pdu';

const part = fc.oneof(
  fc.nat({ max: 3 }),
  fc.constantFrom(127, 128, 16_383, 16_384, 4_294_967_295),
  fc.nat({ max: 4_294_967_295 }),
);
const dotted = fc.array(part, { minLength: 1, maxLength: 8 }).map((tail) => `1.3.${tail.join('.')}`);

test('names compare and lie below each other as their text does', () => {
  fc.assert(
    fc.property(dotted, dotted, (one, other) => {
      const [left, right] = [ObjectName.of(one), ObjectName.of(other)];
      expect([left.text, Math.sign(compareNames(left, right)), left.isBelow(right)]).toEqual([
        one,
        Math.sign(compareOids(one, other)),
        isBelow(other, one),
      ]);
    }),
    { numRuns: 1000 },
  );
  fc.assert(
    fc.property(dotted, fc.array(part, { minLength: 1, maxLength: 5 }), (root, tail) => {
      expect(ObjectName.of(`${root}.${tail.join('.')}`).partsBehind(ObjectName.of(root))).toEqual(tail);
    }),
  );
});

test('columns with holes, of whatever number, make the rows that their varbinds make', () => {
  const entry = '1.3.6.1.2.1.47.1.1.1.1';
  const columns = [2, 13, 300];
  const index = fc.array(part, { minLength: 1, maxLength: 3 }).map((parts) => parts.join('.'));
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.constantFrom(...columns), index), { maxLength: 40 }), (cells) => {
      const names = [...new Set(cells.map(([column, row]) => `${entry}.${column}.${row}`))].sort(compareOids);
      const value = (at: number) => ({ type: 'integer' as const, value: at });
      const answered = columns.map((column) => {
        const read = new AnsweredColumn(column, ObjectName.of(`${entry}.${column}`));
        names.forEach((name, at) => isBelow(read.root.text, name) && read.add(variable(name, at)));
        return read;
      });
      const shown = (rows: ReturnType<typeof tableRows>) =>
        rows.map(({ index: row, cells: own }) => [
          row.join('.'),
          ...columns.map((column) => own.get(column)?.value ?? null),
        ]);
      const joined = shown([...new JoinedColumns(answered)]);
      expect(joined).toEqual(
        shown(
          tableRows(
            entry,
            names.map((oid, at) => ({ oid, value: value(at) })),
          ),
        ).sort((x, y) => compareOids(String(x[0]), String(y[0]))),
      );
    }),
    { numRuns: 300 },
  );
});

/** As it stands in a message: the value behind the name. */
function variable(name: string, value: number): AnsweredVariable {
  const write = new BerWriter();
  write.integer(0x02, value);
  const behind = write.length;
  write.oid(name);
  const octets = write.finish();
  const stop = octets.length - behind;
  // an identifier of 128 octets or more would have a longer head
  return new AnsweredVariable(octets, 2, stop, stop);
}

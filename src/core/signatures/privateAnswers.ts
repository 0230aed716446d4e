import type { ReadingValue } from '../estate/facts';
import type { Harvest, PrivateFacts } from '../estate/harvest';
import { tableRows, type Answers } from '../mib/table';
import { numberOf, textOf } from '../mib/varbind';
import { readingValue, withoutNamesakes, type Reading } from './reading';
import type { ExtraObject, Signature } from './signature';

/** The values of readings among the answers; where two have one name the first holds. */
export function readingValues(readings: Reading[], { objects: byOid }: Answers): ReadingValue[] {
  return withoutNamesakes(readings).flatMap((reading): ReadingValue[] => {
    const answered = reading.oid === undefined ? undefined : byOid.get(reading.oid);
    const value = readingValue(reading, numberOf(answered) ?? textOf(answered));
    return value ? [value] : [];
  });
}

/** What a signature reads of ports beside the standards. */
export function portExtras(
  signature: Signature | null,
  answers: Answers,
): Pick<Harvest, 'portsDisabled' | 'portWatts'> {
  const { disabledBy, watts } = signature?.ports ?? {};
  return {
    ...(disabledBy && {
      portsDisabled: new Map(
        privateColumn(disabledBy.column, answers).flatMap(([index, value]) =>
          disabledBy.values[String(value)] === undefined ? [] : [[index, disabledBy.values[String(value)] ?? '']],
        ),
      ),
    }),
    ...(watts && {
      portWatts: new Map(
        privateColumn(watts.column, answers).flatMap(([index, value]) =>
          value > 0 ? [[index, Math.round(value * (watts.multiplyBy ?? 1) * 10) / 10]] : [],
        ),
      ),
    }),
  };
}

/** Memory of modules in octets, by the index of the module. */
export function moduleMemory(signature: Signature | null, answers: Answers): Map<number, number> {
  if (!signature?.moduleMemory) return new Map();
  const { column, multiplyBy = 1 } = signature.moduleMemory;
  return new Map(privateColumn(column, answers).map(([index, number]) => [index, number * multiplyBy]));
}

/** Facts that a signature names by their objects. */
export function privateFacts(objects: [string, ExtraObject][], { objects: byOid }: Answers): PrivateFacts {
  return Object.fromEntries(
    objects.flatMap(([name, { oid, multiplyBy, values }]) => {
      const value = byOid.get(oid);
      const number = numberOf(value);
      const fact = values
        ? (values[textOf(value) ?? ''] ?? textOf(value))
        : number === undefined
          ? textOf(value)
          : number * (multiplyBy ?? 1);
      return fact === undefined ? [] : [[name, fact]];
    }),
  );
}

/** Numbers of a private column that is indexed by one number. */
function privateColumn(column: string, answers: Answers): [index: number, number: number][] {
  const { entry, column: own } = columnOf(column);
  return tableRows(entry, answers).flatMap(({ index, cells }): [number, number][] => {
    const number = numberOf(cells.get(own));
    return index.length === 1 && number !== undefined ? [[index[0] ?? 0, number]] : [];
  });
}

/** A column by its whole name, as its entry and its number in it. */
export function columnOf(name: string): { entry: string; column: number } {
  const at = name.lastIndexOf('.');
  return { entry: name.slice(0, at), column: Number(name.slice(at + 1)) };
}

import type { KeptContract } from '../../../store/contracts';
import { coverBy, type CoverIndex } from '../../../core/cover/cover';
import { serialKey } from '../../../core/cover/contract';
import { valueAt } from '../../../core/tables/column';
import { naturalKey } from '../../../core/values/naturalKey';
import { daysBetween } from '../../../core/values/day';
import type { ThingRow } from '../rows/rowBuilder';
import type { ThingTable } from './thingTable';

/** Contracts as they stand on the day of a cover index: what each covers, and where that is. @param tables what is in service: things with a serial, and the device each is in */
export function contractRows(
  contracts: readonly KeptContract[],
  index: CoverIndex,
  tables: { table: ThingTable; device: string }[],
): ThingRow[] {
  const places = placesOf(contracts, tables);
  return contracts
    .map((contract) => {
      const { until, serials } = contract;
      const { state } = coverBy([contract], index.day);
      const inService = serials.filter((serial) => places.has(serialKey(serial)));
      // what another contract takes over is not left without
      const left =
        state === 'ending' || state === 'ended'
          ? inService.filter((serial) => ['ending', 'ended'].includes(index.ofSerial(serial).state))
          : [];
      return {
        ...contract,
        id: String(contract.id),
        state,
        from: contract.from ?? '',
        until: until ?? '',
        daysLeft: until === null ? null : daysBetween(index.day, until),
        serialCount: serials.length,
        inService: inService.length,
        uncovered: left.length,
        notInService: serials.filter((serial) => !places.has(serialKey(serial))),
        devices: [...new Set(inService.flatMap((serial) => places.get(serialKey(serial)) ?? []))],
      };
    })
    .map((row) => ({ key: naturalKey(row.number), row }))
    .sort((x, y) => (x.key < y.key ? -1 : x.key > y.key ? 1 : 0))
    .map(({ row }) => row);
}

/** In which devices the serials of contracts are, by their keys. */
function placesOf(
  contracts: readonly KeptContract[],
  tables: { table: ThingTable; device: string }[],
): Map<string, string[]> {
  const wanted = new Set(contracts.flatMap(({ serials }) => serials.map(serialKey)));
  const places = new Map<string, string[]>();
  if (wanted.size === 0) return places;
  for (const { table, device } of tables) {
    const { dictionary, codes } = table.column('serial');
    const found = dictionary.passing((serial) => typeof serial === 'string' && wanted.has(serialKey(serial)));
    const names = table.column(device);
    for (let row = 0; row < table.size; row++) {
      const code = codes[row] ?? 0;
      if (!found[code]) continue;
      const key = serialKey(String(dictionary.values[code]));
      const name = String(valueAt(names, row) ?? '');
      const known = places.get(key);
      if (!known) places.set(key, [name]);
      else if (!known.includes(name)) known.push(name);
    }
  }
  return places;
}

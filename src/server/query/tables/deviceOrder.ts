import { compareNaturally } from '../../../core/values/naturalOrder';

/**
 * Rows that stand together device by device, put in the order of the devices' names; what belongs to none comes last. Only the devices are sorted, however many rows they have.
 * @param rows with those of a device beside each other
 * @param owners by row: the number of its device
 */
export function inOrderOfDevices(
  rows: Uint32Array,
  owners: Uint32Array,
  nameOf: (deviceId: number) => string,
): Uint32Array {
  const ranges: { owner: number; name: string; first: number; behind: number }[] = [];
  for (let first = 0; first < rows.length;) {
    const owner = owners[rows[first] ?? 0] ?? 0;
    let behind = first + 1;
    while (behind < rows.length && owners[rows[behind] ?? 0] === owner) behind++;
    ranges.push({ owner, name: nameOf(owner), first, behind });
    first = behind;
  }
  // two devices may have one name
  ranges.sort(
    (x, y) => Number(x.name === '') - Number(y.name === '') || compareNaturally(x.name, y.name) || x.owner - y.owner,
  );
  const ordered = new Uint32Array(rows.length);
  let at = 0;
  for (const { first, behind } of ranges) {
    ordered.set(rows.subarray(first, behind), at);
    at += behind - first;
  }
  return ordered;
}

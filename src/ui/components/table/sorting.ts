/** The fields that a table is sorted by, the weightiest first; `-` before one turns it round. */
const partsOf = (sort: string): string[] => sort.split(',').filter(Boolean);

/**
 * What a press on a head makes of the order: that column alone, turned round at the second press and let go at the third.
 * @param beside it is sorted by in addition, behind the others
 */
export function sortedAnew(sort: string, name: string, beside: boolean): string {
  const parts = partsOf(sort);
  const at = parts.findIndex((part) => part === name || part === `-${name}`);
  if (beside) {
    if (at < 0) return [...parts, name].join(',');
    return parts.flatMap((part, place) => (place !== at ? [part] : part === name ? [`-${name}`] : [])).join(',');
  }
  if (parts.length > 1 || at < 0) return name;
  return parts[at] === name ? `-${name}` : '';
}

/** How a column takes part in the order: which way, and as which of several. Null where it does not. */
export function placeInSort(sort: string, name: string): { isDescending: boolean; rank: number | null } | null {
  const parts = partsOf(sort);
  const at = parts.findIndex((part) => part === name || part === `-${name}`);
  return at < 0 ? null : { isDescending: parts[at] !== name, rank: parts.length > 1 ? at + 1 : null };
}

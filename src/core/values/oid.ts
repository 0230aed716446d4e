/** Object identifiers as dotted text without a leading dot: `1.3.6.1.2.1.1.1.0`. */

/** Strips a leading dot; null if the text is no object identifier. */
export function parseOid(text: string): string | null {
  const bare = text.trim().replace(/^\./, '');
  return /^\d+(\.\d+)*$/.test(bare) ? bare : null;
}

/** Lexicographic order of SNMP (RFC 3416): by sub-identifier, numerically. */
export function compareOids(left: string, right: string): number {
  const a = left.split('.');
  const b = right.split('.');
  const shared = Math.min(a.length, b.length);
  for (let index = 0; index < shared; index++) {
    const difference = Number(a[index]) - Number(b[index]);
    if (difference) return difference;
  }
  return a.length - b.length;
}

/** True if `oid` lies strictly below `root`. */
export function isBelow(root: string, oid: string): boolean {
  return oid.length > root.length && oid.startsWith(root) && oid[root.length] === '.';
}

/** The index part of `oid` below `root` as numbers; null if it is not below. */
export function indexBelow(root: string, oid: string): number[] | null {
  return isBelow(root, oid) ? oid.slice(root.length + 1).split('.').map(Number) : null;
}

/** Object identifiers as dotted text without a leading dot: `1.3.6.1.2.1.1.1.0`. */

/** Strips a leading dot; null if the text is no object identifier. */
export function parseOid(text: string): string | null {
  const bare = text.trim().replace(/^\./, '');
  return /^\d+(\.\d+)*$/.test(bare) ? bare : null;
}

/** Lexicographic order of SNMP (RFC 3416): by sub-identifier, numerically. */
export function compareOids(left: string, right: string): number {
  const shared = Math.min(left.length, right.length);
  let at = 0;
  while (at < shared && left.charCodeAt(at) === right.charCodeAt(at)) at++;
  if (at === left.length && at === right.length) return 0;
  if (at === left.length && right.charCodeAt(at) === dot) return -1;
  if (at === right.length && left.charCodeAt(at) === dot) return 1;
  // back to the beginning of the sub-identifier in which they differ
  while (at > 0 && left.charCodeAt(at - 1) !== dot) at--;
  return subIdentifier(left, at) - subIdentifier(right, at);
}

const dot = 46;

/** The number that begins at a place. */
function subIdentifier(text: string, at: number): number {
  let value = 0;
  for (let place = at; place < text.length; place++) {
    const digit = text.charCodeAt(place) - 48;
    if (digit < 0) break;
    value = value * 10 + digit;
  }
  return value;
}

/** True if `oid` lies strictly below `root`. */
export function isBelow(root: string, oid: string): boolean {
  return oid.length > root.length && oid.startsWith(root) && oid[root.length] === '.';
}

/** The index part of `oid` below `root` as numbers; null if it is not below. */
export function indexBelow(root: string, oid: string): number[] | null {
  return isBelow(root, oid)
    ? oid
        .slice(root.length + 1)
        .split('.')
        .map(Number)
    : null;
}

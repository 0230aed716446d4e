/**
 * Release numbers as the schemes of makers write them: numbers and letters separated by `.`, `-`, `_` or nothing
 * (`7.4.12b`, `2026.2-p3`). Numbers compare as numbers, letters as letters; a longer release is later than the one it
 * begins with, except that `rc`, `beta` and `alpha` come before the release itself.
 */
export function compareReleases(left: string, right: string): number {
  const a = parts(left);
  const b = parts(right);
  for (let index = 0; index < Math.max(a.length, b.length); index++) {
    const x = a[index];
    const y = b[index];
    if (x === undefined) return -trailing(y);
    if (y === undefined) return trailing(x);
    if (typeof x === 'number' && typeof y === 'number') {
      if (x !== y) return x - y;
    } else if (typeof x === 'string' && typeof y === 'string') {
      const order = (isPreRelease(y) ? 1 : 0) - (isPreRelease(x) ? 1 : 0) || (x < y ? -1 : x > y ? 1 : 0);
      if (order) return order;
    } else {
      // a letter against a number: 7.4b comes before 7.4.1 only if the letter announces a pre-release
      return typeof x === 'number' ? 1 : -1;
    }
  }
  return 0;
}

const isPreRelease = (part: string) => /^(rc|beta|alpha|pre)$/.test(part);
const trailing = (part: string | number | undefined) => (typeof part === 'string' && isPreRelease(part) ? -1 : 1);

function parts(release: string): (string | number)[] {
  return (release.toLowerCase().match(/\d+|[a-z]+/g) ?? []).map((part) => (/^\d/.test(part) ? Number(part) : part));
}

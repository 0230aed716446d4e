import { naturalOrder } from '../scheme';
import type { ReleaseRange } from './advisory';

/** A range that cannot be read. */
export class RangeError extends Error {
  override name = 'RangeError';
}

const mostConstraints = 200;
const constraint = /^(<=|>=|!=|=|<|>)?(.+)$/;

/**
 * Reads a range of releases as CSAF writes it in `product_version_range`: `vers:generic/>=7.2.30|<7.4.12b` (the version range specifier of package URLs), or the same without its head.
 * @returns ranges, releases named one by one, and releases that are left out
 * @throws RangeError
 */
export function parseVers(text: string): { ranges: ReleaseRange[]; releases: string[]; leftOut: string[] } {
  const body = text.trim().replace(/^vers:[a-z0-9.-]+\//i, '');
  if (body === '*' || body === '') return { ranges: [all], releases: [], leftOut: [] };
  const parts = body.split('|').map((one) => one.trim());
  if (parts.length > mostConstraints) throw new RangeError(`a range has at most ${mostConstraints} constraints`);
  const told = parts.map((part) => {
    const [, sign = '=', release = ''] = constraint.exec(part) ?? [];
    const own = decode(release.trim());
    if (own === '' || /[<>=!|\s]/.test(own)) throw new RangeError(`“${part}” is no constraint like >=7.4.9`);
    return { sign, release: own };
  });
  const named = (sign: string) => told.filter((one) => one.sign === sign).map(({ release }) => release);
  const bounds = told
    .filter(({ sign }) => sign !== '=' && sign !== '!=')
    .sort((x, y) => naturalOrder.compare(x.release, y.release));
  const ranges: ReleaseRange[] = [];
  for (let at = 0; at < bounds.length; at++) {
    const { sign = '', release = '' } = bounds[at] ?? {};
    const next = bounds[at + 1];
    const start = sign === '>=' ? { from: release } : sign === '>' ? { after: release } : {};
    if (sign.startsWith('<')) ranges.push({ ...all, ...endOf({ sign, release }) });
    else if (next?.sign.startsWith('<')) {
      ranges.push({ ...all, ...start, ...endOf(next) });
      at++;
    } else ranges.push({ ...all, ...start });
  }
  return { ranges, releases: named('='), leftOut: named('!=') };
}

const all: ReleaseRange = { from: null, after: null, before: null, upTo: null };

const endOf = ({ sign, release }: { sign: string; release: string }): Partial<ReleaseRange> =>
  sign === '<' ? { before: release } : { upTo: release };

function decode(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    throw new RangeError(`“${text}” is not written as in an address`);
  }
}

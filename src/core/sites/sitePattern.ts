/** A part of a pattern: letters as they stand, anything, or the letters and digits that are the site. */
type Part = { kind: 'letter'; letter: string } | { kind: 'star' } | { kind: 'site'; least: number; most: number };

export const siteForm = /\{site(?: (\d{1,2})-(\d{1,2}))?\}/g;

/** Longer names and locations are looked at so far. */
const longestText = 255;

const siteLetter = /^[\p{L}\p{N}]$/u;

/**
 * A pattern made ready to be asked. `*` is as little as will do, the site as much as will do, big and small letters are the same.
 * What was tried once at a place is not tried there again, so that the work grows with the lengths of pattern and text
 * multiplied and with nothing else, whatever either is.
 * @param isWithin whether what stands before and after it does not matter
 * @returns what tells the site in a text (empty where the pattern has none), null where it does not fit
 */
export function sitePattern(pattern: string, isWithin: boolean): (text: string) => string | null {
  const inside = partsOf(pattern);
  const parts: Part[] = isWithin ? [{ kind: 'star' }, ...inside, { kind: 'star' }] : inside;
  return (text) => {
    const letters = [...text.toLowerCase()].slice(0, longestText);
    const failed = new Uint8Array((parts.length + 1) * (letters.length + 1));

    /** The site, where the parts from one on fit what stands from a place on. */
    const fit = (part: number, from: number): string | null => {
      const tried = part * (letters.length + 1) + from;
      if (failed[tried] === 1) return null;
      const found = tryAt(part, from);
      if (found === null) failed[tried] = 1;
      return found;
    };
    const tryAt = (at: number, from: number): string | null => {
      const part = parts[at];
      if (!part) return from === letters.length ? '' : null;
      if (part.kind === 'letter') return letters[from] === part.letter ? fit(at + 1, from + 1) : null;
      if (part.kind === 'star') return fit(at + 1, from) ?? (from < letters.length ? fit(at, from + 1) : null);
      let most = 0;
      while (most < part.most && siteLetter.test(letters[from + most] ?? '')) most += 1;
      for (let many = most; many >= part.least; many -= 1) {
        if (fit(at + 1, from + many) !== null) return letters.slice(from, from + many).join('');
      }
      return null;
    };
    return fit(0, 0);
  };
}

function partsOf(pattern: string): Part[] {
  const parts: Part[] = [];
  let last = 0;
  const plain = (text: string) => {
    for (const letter of text.toLowerCase()) parts.push(letter === '*' ? { kind: 'star' } : { kind: 'letter', letter });
  };
  for (const match of pattern.matchAll(siteForm)) {
    const [whole, least = '1', most = '20'] = match;
    plain(pattern.slice(last, match.index));
    parts.push({ kind: 'site', least: Number(least), most: Number(most) });
    last = match.index + whole.length;
  }
  plain(pattern.slice(last));
  return parts;
}

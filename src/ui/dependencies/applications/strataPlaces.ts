import type { Bracket, Plate, Strata } from '@/core/applications/strata';

export interface PlacedPlate extends Plate {
  x: number;
  y: number;
  width: number;
}

export interface PlacedBracket {
  words: string;
  x: number;
  y: number;
  width: number;
}

export interface PlacedStratum {
  title: string;
  y: number;
  tall: number;
}

export interface StrataPlaces {
  width: number;
  height: number;
  strata: PlacedStratum[];
  plates: PlacedPlate[];
  brackets: PlacedBracket[];
  lines: { from: PlacedPlate; to: PlacedPlate; proof: string }[];
}

export const plateTall = 34;
export const titleRoom = 150;
const [gap, bracketGap, rowGap, padding, bracketRoom] = [10, 26, 14, 22, 16];
const letterWidth = 6.9;
/** Letters of notes, against those of names. */
const noteSize = 0.85;
const [narrowest, widest] = [92, 250];
/** Rows of plates are broken here. */
const usualWidth = 724;
const rounds = 4;

const widthOf = ({ name, note }: Plate): number =>
  Math.min(widest, Math.max(narrowest, 26 + letterWidth * Math.max(name.length + 1, note.length * noteSize)));
const spanOf = ({ plates }: Bracket): number =>
  plates.reduce((sum, plate) => sum + widthOf(plate), 0) + gap * (plates.length - 1);

/**
 * Where plates stand: a band for each stratum, what stands in for each other side by side; brackets in the order of what they are joined with (barycentres, K. Sugiyama et al., 1981), so that
 * few lines cross.
 */
export function strataPlaces({ strata, lines }: Strata, room = usualWidth): StrataPlaces {
  const beside = new Map<string, string[]>();
  for (const { from, to } of lines)
    for (const [own, other] of [
      [from, to],
      [to, from],
    ] as const) {
      const known = beside.get(own);
      if (known) known.push(other);
      else beside.set(own, [other]);
    }
  const ordered = strata.map(({ brackets }) => [...brackets]);
  // by key: how far across of its stratum, 0 to 1
  const across = new Map<string, number>();
  const note = (brackets: readonly Bracket[]) => {
    const keys = brackets.flatMap(({ plates }) => plates.map(({ key }) => key));
    keys.forEach((key, at) => across.set(key, (at + 0.5) / keys.length));
  };
  ordered.forEach(note);
  for (let round = 0; round < rounds; round++) {
    const way = round % 2 === 0 ? ordered : [...ordered].reverse();
    for (const brackets of way) {
      const middle = (bracket: Bracket): number => {
        const near = bracket.plates.flatMap(({ key }) =>
          (beside.get(key) ?? []).flatMap((other) => across.get(other) ?? []),
        );
        const own = bracket.plates.map(({ key }) => across.get(key) ?? 0);
        const all = near.length > 0 ? near : own;
        return all.reduce((sum, one) => sum + one, 0) / all.length;
      };
      const middles = new Map(brackets.map((bracket) => [bracket, middle(bracket)]));
      brackets.sort((x, y) => (middles.get(x) ?? 0) - (middles.get(y) ?? 0));
      note(brackets);
    }
  }
  const rowsOf = (brackets: readonly Bracket[]): Bracket[][] => {
    const rows: Bracket[][] = [];
    let used = Infinity;
    for (const bracket of brackets) {
      const span = spanOf(bracket);
      if (used + bracketGap + span > room) {
        rows.push([]);
        used = -bracketGap;
      }
      rows.at(-1)?.push(bracket);
      used += bracketGap + span;
    }
    return rows;
  };
  const rowWidth = (row: readonly Bracket[]) =>
    row.reduce((sum, bracket) => sum + spanOf(bracket), 0) + bracketGap * (row.length - 1);
  const all = ordered.map(rowsOf);
  const inner = Math.max(...all.flat().map(rowWidth), room);
  const found: StrataPlaces = {
    width: titleRoom + inner + 2 * padding,
    height: 0,
    strata: [],
    plates: [],
    brackets: [],
    lines: [],
  };
  let y = 0;
  strata.forEach(({ title }, at) => {
    const rows = all[at] ?? [];
    const isBracketed = rows.some((row) => row.some(({ words }) => words !== ''));
    const tall =
      2 * padding +
      rows.length * plateTall +
      (rows.length - 1) * (rowGap + (isBracketed ? bracketRoom : 0)) +
      (isBracketed ? 6 : 0);
    found.strata.push({ title, y, tall });
    rows.forEach((row, nth) => {
      let x = titleRoom + padding + (inner - rowWidth(row)) / 2;
      const top = y + padding + nth * (plateTall + rowGap + (isBracketed ? bracketRoom : 0));
      for (const bracket of row) {
        const from = x;
        for (const plate of bracket.plates) {
          const width = widthOf(plate);
          found.plates.push({ ...plate, x, y: top, width });
          x += width + gap;
        }
        x += bracketGap - gap;
        if (bracket.words)
          found.brackets.push({ words: bracket.words, x: from - 6, y: top - 6, width: x - bracketGap - from + 12 });
      }
    });
    y += tall;
  });
  found.height = y;
  const byKey = new Map(found.plates.map((plate) => [plate.key, plate]));
  found.lines = lines.flatMap(({ from, to, proof }) => {
    const [one, other] = [byKey.get(from), byKey.get(to)];
    return one && other && one !== other ? [{ from: one, to: other, proof }] : [];
  });
  return found;
}

/** What a plate rests on, step by step, and what rests on it: with itself, by key. */
export function aroundPlate({ lines }: Pick<StrataPlaces, 'lines'>, key: string): Set<string> {
  const reach = (end: 'from' | 'to', other: 'from' | 'to') => {
    const found = new Set([key]);
    for (const one of found) for (const line of lines) if (line[end].key === one) found.add(line[other].key);
    return found;
  };
  return new Set([...reach('from', 'to'), ...reach('to', 'from')]);
}

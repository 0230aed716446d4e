import { compareNaturally } from '../values/naturalOrder';
import { editDistance } from './editDistance';

/** A text by which something is found. */
export interface FoundBy {
  text: string;
  /** what it leads to */
  entry: number;
  /** found though a letter or two are wrong: names, not addresses, since another address is another machine */
  loosely: boolean;
}

export interface Found {
  entry: number;
  text: string;
  /** 0 the text itself, 1 its beginning, 2 the beginning of a word in it, 3 anywhere in it, 4 and more: with letters wrong */
  rank: number;
}

const mostHits = 600;
/** Names that share many groups of letters with what is wanted, and are looked at letter by letter. */
const mostCandidates = 150;
const leastLoose = 4;
const gram = 3;

/**
 * Finds texts by a scrap of them, the closest first, and names also by a scrap with a letter or two wrong. Scraps are looked for in one long text; for wrong letters,
 * names that share groups of three letters with the scrap are counted by an inverted index (q-gram lemma, Ukkonen 1992), and the nearest compared letter by letter.
 */
export class TextIndex {
  readonly #parts: string[] = ['\n'];
  readonly #starts: number[] = [];
  readonly #entries: number[] = [];
  readonly #texts: string[] = [];
  #length = 1;
  #joined: string | null = null;
  /** names: their places among the texts, and where each group of letters stands */
  readonly #names: number[] = [];
  readonly #nameOf = new Map<string, number>();
  readonly #places = new Map<string, number[]>();

  add({ text, entry, loosely }: FoundBy): void {
    const lower = text.toLowerCase().replaceAll('\n', ' ');
    if (lower === '') return;
    this.#joined = null;
    this.#starts.push(this.#length);
    this.#entries.push(entry);
    this.#texts.push(text);
    this.#parts.push(lower, '\n');
    this.#length += lower.length + 1;
    if (!loosely || this.#nameOf.has(lower)) return;
    const name = this.#names.length;
    this.#nameOf.set(lower, name);
    this.#names.push(this.#starts.length - 1);
    for (const letters of gramsOf(lower)) {
      const places = this.#places.get(letters);
      if (places) places.push(name);
      else this.#places.set(letters, [name]);
    }
  }

  get #haystack(): string {
    return (this.#joined ??= this.#parts.join(''));
  }

  /** @param also other ways to write what is wanted, such as a MAC without its separators */
  find(wanted: string, most: number, also: string[] = []): Found[] {
    const needle = wanted.trim().toLowerCase();
    if (needle === '') return [];
    const best = new Map<number, Found & { line: number }>();
    const add = (line: number, rank: number) => {
      const entry = this.#entries[line] ?? 0;
      const text = this.#texts[line] ?? '';
      const known = best.get(entry);
      if (!known || rank < known.rank || (rank === known.rank && text.length < known.text.length))
        best.set(entry, { entry, text, rank, line });
    };
    for (const scrap of [needle, ...also]) this.#scan(scrap, add);
    // where something begins with what is written, nothing is wrong with it
    const meant = [...best.values()].some(({ rank }) => rank <= 2);
    if (!meant && needle.length >= leastLoose) this.#loosely(needle, add);
    return [...best.values()]
      .sort(
        (x, y) =>
          x.rank - y.rank || x.text.length - y.text.length || compareNaturally(x.text, y.text) || x.entry - y.entry,
      )
      .slice(0, most)
      .map(({ entry, text, rank }) => ({ entry, text, rank }));
  }

  /** Texts that begin with the scrap first: there may be more that hold it than anybody looks through. */
  #scan(scrap: string, add: (line: number, rank: number) => void): void {
    let hits = 0;
    const text = this.#haystack;
    for (
      let at = text.indexOf(`\n${scrap}`);
      at >= 0 && hits < mostHits;
      at = text.indexOf(`\n${scrap}`, at + 1), hits++
    ) {
      add(this.#lineAt(at + 1), text[at + 1 + scrap.length] === '\n' ? 0 : 1);
    }
    hits = 0;
    for (let at = text.indexOf(scrap); at >= 0 && hits < mostHits; at = text.indexOf(scrap, at + 1), hits++) {
      if (text[at - 1] !== '\n') add(this.#lineAt(at), /[a-z0-9]/.test(text[at - 1] ?? '') ? 3 : 2);
    }
  }

  /** Names that are the scrap, or begin with it, but for a letter or two. */
  #loosely(needle: string, add: (line: number, rank: number) => void): void {
    const wrong = needle.length >= 8 ? 2 : 1;
    const shared = new Uint8Array(this.#names.length);
    const grams = gramsOf(needle);
    for (const letters of grams)
      for (const name of this.#places.get(letters) ?? []) shared[name] = Math.min(255, (shared[name] ?? 0) + 1);
    // each wrong letter spoils at most as many groups as it stands in
    const least = Math.max(1, grams.length - gram * wrong - 1);
    const byShared: number[][] = [];
    for (let name = 0; name < shared.length; name++) {
      const count = shared[name] ?? 0;
      if (count < least) continue;
      const list = (byShared[count] ??= []);
      if (list.length < mostCandidates) list.push(name);
    }
    const candidates = byShared.reverse().flat().slice(0, mostCandidates);
    for (const name of candidates) {
      const line = this.#names[name] ?? 0;
      const text = this.#haystack.slice(this.#starts[line], (this.#starts[line + 1] ?? this.#length) - 1);
      const whole = editDistance(needle, text, wrong);
      const begun = Math.min(
        ...[-1, 0, 1].map((more) => editDistance(needle, text.slice(0, needle.length + more), wrong)),
      );
      if (whole <= wrong) add(line, 3 + whole);
      else if (begun <= wrong) add(line, 5 + begun);
    }
  }

  #lineAt(place: number): number {
    let low = 0;
    let high = this.#starts.length;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if ((this.#starts[middle] ?? 0) <= place) low = middle;
      else high = middle;
    }
    return low;
  }
}

/** Groups of three letters, the beginning marked, each once. */
function gramsOf(text: string): string[] {
  const marked = ` ${text}`;
  const grams = new Set<string>();
  for (let at = 0; at + gram <= marked.length; at++) grams.add(marked.slice(at, at + gram));
  return [...grams];
}

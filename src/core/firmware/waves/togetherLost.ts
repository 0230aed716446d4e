import { fates, type Outcome, type Rehearsals } from '../../dependency/rehearse';

/** What a set of devices takes away. */
export type Taken =
  | { kind: 'safe' }
  /** something that none of them takes away by itself */
  | { kind: 'together'; lost: number }
  /** an application is stopped by one of them alone: by device, in words */
  | { kind: 'stops'; by: ReadonlyMap<number, string> };

const lost = fates.indexOf('lost');
const mostNamed = 3;

/** Whether devices that are away at the same time take away what none of them takes away by itself. */
export class TogetherLost {
  rehearsed = 0;
  /** by device: what it takes away by itself, but for what hangs on it */
  readonly #alone = new Map<number, ReadonlySet<number>>();

  constructor(
    readonly rehearsals: Rehearsals,
    /** applications that may be stopped */
    readonly mayStop: ReadonlySet<number>,
  ) {}

  check(devices: readonly number[]): Taken {
    const away = new Set(devices);
    const gone = this.#lostBy(devices, away);
    if (gone.length === 0) return { kind: 'safe' };
    const { things } = this.rehearsals.graph;
    const stops = gone.filter((thing) => things[thing]?.kind === 'application' && !this.mayStop.has(thing));
    if (stops.length > 0) {
      const by = new Map<number, string>();
      for (const device of devices) {
        const own = stops.filter((one) => this.#aloneOf(device).has(one));
        if (own.length > 0) by.set(device, `taking it stops ${this.#names(own)}`);
      }
      if (by.size > 0) return { kind: 'stops', by };
    }
    const alone = devices.map((device) => this.#aloneOf(device));
    const together = gone.find((thing) => !alone.some((own) => own.has(thing)));
    return together === undefined ? { kind: 'safe' } : { kind: 'together', lost: together };
  }

  /** With which of some others one does not go, and why; null where it is no single one. */
  conflict(devices: readonly number[], device: number): { other: number; words: string } | null {
    const { things } = this.rehearsals.graph;
    let among = [...devices];
    let found: Taken = { kind: 'safe' };
    while (among.length > 1) {
      const half = among.slice(0, among.length >> 1);
      among = this.check([...half, device]).kind === 'together' ? half : among.slice(among.length >> 1);
    }
    const [other] = among;
    if (other !== undefined) found = this.check([other, device]);
    if (other === undefined || found.kind !== 'together') return null;
    return { other, words: `with ${things[other]?.name ?? ''}: ${things[found.lost]?.name ?? ''} would be lost` };
  }

  /** What it takes away by itself, in words; empty for nothing but what hangs on it. */
  aloneWords(device: number): string {
    const own = this.#alone.get(device);
    if (!own || own.size === 0) return '';
    const { things } = this.rehearsals.graph;
    const counts = new Map<string, number>();
    for (const thing of own) {
      const kind = things[thing]?.kind ?? '';
      counts.set(kind, (counts.get(kind) ?? 0) + 1);
    }
    const words = [...counts].map(([kind, count]) => `${count} ${kind}${count === 1 ? '' : 's'}`);
    return `no way round it for ${words.join(', ')}`;
  }

  #aloneOf(device: number): ReadonlySet<number> {
    let known = this.#alone.get(device);
    if (!known) this.#alone.set(device, (known = new Set(this.#lostBy([device], new Set([device])))));
    return known;
  }

  #lostBy(devices: readonly number[], away: ReadonlySet<number>): number[] {
    this.rehearsed++;
    const { fate }: Outcome = this.rehearsals.rehearse({ things: devices, lostAlone: true });
    const { hangsOn } = this.rehearsals.graph;
    const gone: number[] = [];
    for (let thing = 0; thing < fate.length; thing++)
      if (fate[thing] === lost && !away.has(hangsOn[thing] ?? -1)) gone.push(thing);
    return gone;
  }

  /** What devices would take away between them, in words: nothing is said of what each takes away by itself. */
  words(devices: readonly number[]): string[] {
    const { things } = this.rehearsals.graph;
    const found = this.check(devices);
    if (found.kind === 'safe') return [];
    if (found.kind === 'stops') return [...found.by].map(([device, why]) => `${things[device]?.name ?? ''}: ${why}`);
    const [last, ...others] = [...devices].reverse();
    const conflict = last === undefined ? null : this.conflict(others.reverse(), last);
    return [
      conflict
        ? `${things[last ?? 0]?.name ?? ''} does not go ${conflict.words}`
        : `together they take away ${things[found.lost]?.name ?? ''}`,
    ];
  }

  #names(all: readonly number[]): string {
    const { things } = this.rehearsals.graph;
    const names = all.slice(0, mostNamed).map((thing) => things[thing]?.name ?? '');
    return all.length > mostNamed ? `${names.join(', ')} and ${all.length - mostNamed} more` : names.join(' and ');
  }
}

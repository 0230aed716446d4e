import type { PreparedGraph } from '../../dependency/graph';

/** So many ways are left to whatever has more. */
const leastLeft = 2;

/** Who is cabled to whom, and how many ways a device has: its neighbours that pass frames on, each once. */
export class Ways {
  readonly #next: readonly (readonly number[])[];
  readonly #ways: readonly (readonly number[])[];
  readonly #through: readonly number[][];

  constructor({ deviceCount, cables, forwards }: Pick<PreparedGraph, 'deviceCount' | 'cables' | 'forwards'>) {
    const next = Array.from({ length: deviceCount }, () => new Set<number>());
    for (const { a, b } of cables) {
      if (a === b) continue;
      next[a]?.add(b);
      next[b]?.add(a);
    }
    this.#next = next.map((own) => [...own]);
    this.#ways = this.#next.map((own) => own.filter((one) => forwards[one] === 1));
    this.#through = Array.from({ length: deviceCount }, () => []);
    this.#ways.forEach((own, device) => {
      if (own.length > leastLeft) for (const one of own) this.#through[one]?.push(device);
    });
  }

  /** Those that are cabled to a device. */
  nextTo(device: number): readonly number[] {
    return this.#next[device] ?? [];
  }

  /** The ways of a device. */
  of(device: number): readonly number[] {
    return this.#ways[device] ?? [];
  }

  /** Devices with ways to spare, of which one leads through this. */
  through(device: number): readonly number[] {
    return this.#through[device] ?? [];
  }

  /** Whether a device with ways to spare has too few left, with so many of them away. */
  isThin(device: number, away: number): boolean {
    const own = this.of(device).length;
    return own > leastLeft && own - away < leastLeft;
  }
}

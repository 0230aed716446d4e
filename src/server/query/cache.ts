/**
 * Keeps a few of the newest, the oldest of them given up for the next; those that are pinned stay, and do not count. What was made at another stamp is no longer so: it gives way to what is made anew.
 */
export class Cache<Value> {
  readonly #values = new Map<string, { stamp: string; value: Value }>();

  constructor(
    readonly most: number,
    readonly isPinned: (key: string) => boolean = () => false,
  ) {}

  get(key: string, make: () => Value, stamp = ''): Value {
    const known = this.#values.get(key);
    const value = known && known.stamp === stamp ? known.value : make();
    this.#values.delete(key);
    this.#values.set(key, { stamp, value });
    this.#giveUp();
    return value;
  }

  has(key: string): boolean {
    return this.#values.has(key);
  }

  delete(key: string): void {
    this.#values.delete(key);
  }

  clear(): void {
    this.#values.clear();
  }

  #giveUp(): void {
    if (this.#values.size <= this.most) return;
    const loose = [...this.#values.keys()].filter((key) => !this.isPinned(key));
    for (const key of loose.slice(0, Math.max(0, loose.length - this.most))) this.#values.delete(key);
  }
}

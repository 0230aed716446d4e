/** A few of the newest, the oldest of them given up for the next. */
export class Kept<Value> {
  readonly #values = new Map<string, Value>();

  constructor(readonly most: number) {}

  get(key: string, make: () => Value): Value {
    let value = this.#values.get(key);
    if (value === undefined) value = make();
    else this.#values.delete(key);
    this.#values.set(key, value);
    const oldest = this.#values.keys().next().value;
    if (this.#values.size > this.most && oldest !== undefined) this.#values.delete(oldest);
    return value;
  }

  clear(): void {
    this.#values.clear();
  }
}

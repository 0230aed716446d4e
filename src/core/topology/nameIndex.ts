/** The host part of a name, lower case: what people call a device. Joins go by `NameIndex`, since two may share it. */
export function shortName(name: string): string {
  return hostPart(name.toLowerCase());
}

/** An address is no name with domains: it has no host part. */
const hostPart = (lower: string): string => (/^[\d.]+$/.test(lower) ? lower : (lower.split('.')[0] ?? lower));

/**
 * What is meant by a name, whole (RFC 1034: without regard to case) or without its domain on either side, as agents differ in whether they give it. `core.east` and `core.west` are
 * two; of two that fit neither is meant.
 */
export class NameIndex<Value> {
  readonly #whole = new Map<string, Value | null>();
  readonly #byHost = new Map<string, Set<string>>();

  constructor(named: Iterable<readonly [name: string, value: Value]>) {
    for (const [name, value] of named) {
      const whole = plain(name);
      if (whole === '') continue;
      this.#whole.set(whole, this.#whole.has(whole) ? null : value);
      const host = hostPart(whole);
      this.#byHost.set(host, (this.#byHost.get(host) ?? new Set()).add(whole));
    }
  }

  get(name: string): Value | undefined {
    const whole = plain(name);
    if (this.#whole.has(whole)) return this.#whole.get(whole) ?? undefined;
    const host = hostPart(whole);
    if (host !== whole) return this.#whole.get(host) ?? undefined;
    const [only, ...others] = this.#byHost.get(host) ?? [];
    return only === undefined || others.length > 0 ? undefined : (this.#whole.get(only) ?? undefined);
  }
}

/** Without the dot of the root, which some resolvers leave at the end. */
const plain = (name: string): string => name.trim().toLowerCase().replace(/\.$/, '');

import { addressOrNull, networkOf } from './ipAddress';

const quad = /^(\d{1,3})\.(\d{1,3})\.(\d{1,3})\.(\d{1,3})$/;

/** The number of an IPv4 address as equipment writes it; null for anything else. */
function quadNumber(text: string): number | null {
  const parts = quad.exec(text);
  if (!parts) return null;
  let number = 0;
  for (let at = 1; at <= 4; at++) {
    const octet = Number(parts[at]);
    if (octet > 255) return null;
    number = number * 256 + octet;
  }
  return number;
}

/** Networks by which many addresses are looked up: for each the longest prefix that holds it. One look for each length there is; IPv4 by number, without making texts. */
export class Prefixes {
  readonly #ipv4: { length: number; networks: Map<number, string> }[];
  readonly #ipv6: { length: number; networks: Set<string> }[];

  /** @param networks as `networkOf` writes them, `10.72.4.0/24` */
  constructor(networks: Iterable<string>) {
    const ipv4 = new Map<number, Map<number, string>>();
    const ipv6 = new Map<number, Set<string>>();
    for (const network of networks) {
      const [address = '', text] = network.split('/');
      const length = Number(text);
      const number = quadNumber(address);
      if (number === null) ipv6.set(length, (ipv6.get(length) ?? new Set()).add(network));
      else ipv4.set(length, (ipv4.get(length) ?? new Map<number, string>()).set(number, network));
    }
    this.#ipv4 = [...ipv4].map(([length, of]) => ({ length, networks: of })).sort((x, y) => y.length - x.length);
    this.#ipv6 = [...ipv6].map(([length, of]) => ({ length, networks: of })).sort((x, y) => y.length - x.length);
  }

  /** The longest of the networks that an address lies in; null for none, and for what is no address. */
  longestWith(address: string): string | null {
    const number = quadNumber(address);
    if (number !== null) {
      for (const { length, networks } of this.#ipv4) {
        const size = 2 ** (32 - length);
        const found = networks.get(number - (number % size));
        if (found !== undefined) return found;
      }
      return null;
    }
    if (this.#ipv6.length === 0 || !addressOrNull(address)) return null;
    for (const { length, networks } of this.#ipv6) {
      const network = networkOf(address, length);
      if (networks.has(network)) return network;
    }
    return null;
  }
}

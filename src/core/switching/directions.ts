import type { Adjacent } from './uplinks';
import type { Forwarding } from './forwarding';
import { MacTable } from './macTable';

/**
 * On which of its ports each switch has each other switch: where it hears the addresses of that switch itself, or else where it hears most of the machines that
 * were found there. One machine's row may be old or missing; a hundred are not.
 */
export class Directions {
  readonly #ports: Pairs;
  /** port → switches that lie behind it */
  readonly #behind: number[][];

  /**
   * @param owners by MAC: the switch whose own address it is, or −1
   * @param homes by MAC: the switch it was found at, or −1
   * @param adjacent neighbours by their own word: nothing is surer
   */
  constructor(
    readonly forwarding: Forwarding,
    owners: Int32Array,
    homes: Int32Array,
    adjacent: readonly Adjacent[],
  ) {
    const { devices, ports, byPort, macOf, firstPort } = forwarding;
    const count = devices.length;
    this.#ports = new Pairs(count);
    const most = new Pairs(count);
    const stamps = new Int32Array(count);
    for (let port = 0; port < ports.length; port++) {
      const here = ports[port]?.device ?? 0;
      // how many say so, of all rows of this port at once
      const seen: number[] = [];
      for (let at = byPort.starts[port] ?? 0, end = byPort.starts[port + 1] ?? 0; at < end; at++) {
        const mac = macOf[byPort.rows[at] ?? 0] ?? 0;
        const owner = owners[mac] ?? -1;
        const there = owner >= 0 ? owner : (homes[mac] ?? -1);
        if (there < 0 || there === here) continue;
        if (stamps[there] === 0) seen.push(there);
        stamps[there] = (stamps[there] ?? 0) + (owner >= 0 ? 1000 : 1);
      }
      for (const there of seen) {
        const votes = stamps[there] ?? 0;
        stamps[there] = 0;
        if (votes > most.get(here, there)) {
          most.set(here, there, votes);
          this.#ports.set(here, there, port);
        }
      }
    }
    for (const { from, port: name, to } of adjacent) {
      for (let port = firstPort[from] ?? 0, end = firstPort[from + 1] ?? 0; port < end; port++)
        if (ports[port]?.name === name) this.#ports.set(from, to, port);
    }
    this.#behind = ports.map(() => []);
    this.#ports.forEach((_, there, port) => this.#behind[port]?.push(there));
    this.#complete();
  }

  /**
   * Where a switch never heard another one that hears it: what the other has on different ports than this one lies beyond it, so it is where those are. In a tree
   * that is sure of each of them; some are asked, since a row may be old.
   */
  #complete(): void {
    const { firstPort } = this.forwarding;
    const found: [from: number, to: number, port: number][] = [];
    const votes = new Map<number, number>();
    this.#ports.forEach((here, there, towards) => {
      if (this.port(there, here) >= 0) return;
      votes.clear();
      let asked = 0;
      for (let port = firstPort[there] ?? 0, end = firstPort[there + 1] ?? 0; port < end && asked < enough; port++) {
        for (const third of this.behind(port)) {
          const known = this.port(here, third);
          if (known < 0 || known === towards) continue;
          votes.set(port, (votes.get(port) ?? 0) + 1);
          if (++asked === enough) break;
        }
      }
      for (const [port, said] of votes) if (said * 2 > asked) found.push([there, here, port]);
    });
    for (const [from, to, port] of found) {
      this.#ports.set(from, to, port);
      this.#behind[port]?.push(to);
    }
  }

  /** The port of a switch that leads to another; −1 where nobody knows. */
  port(from: number, to: number): number {
    return this.#ports.get(from, to);
  }

  behind(port: number): readonly number[] {
    return this.#behind[port] ?? [];
  }

  /** Of the switches that hear a MAC, how many hear it in the direction of a switch, and how many elsewhere; that switch itself is not asked. */
  say(mac: number, at: number): { yes: number; no: number } {
    const { byMac, portOf, ports } = this.forwarding;
    let [yes, no] = [0, 0];
    for (let row = byMac.starts[mac] ?? 0, end = byMac.starts[mac + 1] ?? 0; row < end; row++) {
      const port = portOf[byMac.rows[row] ?? 0] ?? 0;
      const here = ports[port]?.device ?? 0;
      if (here === at) continue;
      const towards = this.port(here, at);
      if (towards === port) yes++;
      else if (towards >= 0) no++;
    }
    return { yes, no };
  }
}

/** Others that are asked where they lie, for one that was never heard. */
const enough = 15;

/** Networks of more switches are so wide that most pairs know nothing of each other. */
const largestSquare = 3000;

/** A number for some of all pairs of switches, −1 for the others: a square of numbers, which is looked up most quickly, or a table where that would be too large. */
class Pairs {
  readonly #square: Int32Array | null;
  readonly #table: MacTable | null;

  constructor(readonly count: number) {
    this.#square = count <= largestSquare ? new Int32Array(count * count).fill(-1) : null;
    this.#table = this.#square ? null : new MacTable(1 << 12);
  }

  get(from: number, to: number): number {
    const key = from * this.count + to;
    return this.#square ? (this.#square[key] ?? -1) : (this.#table?.get(key) ?? -1);
  }

  set(from: number, to: number, value: number): void {
    const key = from * this.count + to;
    if (this.#square) this.#square[key] = value;
    else this.#table?.set(key, value);
  }

  /** In the order of the pairs, so that the same is found in any order of what was put in. */
  forEach(visit: (from: number, to: number, value: number) => void): void {
    const { count } = this;
    if (this.#square) {
      for (let from = 0; from < count; from++) {
        for (let to = 0, at = from * count; to < count; to++, at++)
          if ((this.#square[at] ?? -1) >= 0) visit(from, to, this.#square[at] ?? -1);
      }
      return;
    }
    const keys: number[] = [];
    this.#table?.forEach((key) => keys.push(key));
    for (const key of keys.sort((x, y) => x - y))
      visit(Math.floor(key / count), key % count, this.#table?.get(key) ?? -1);
  }
}

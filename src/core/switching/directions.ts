import type { Adjacent } from './uplinks';
import { rowsOf, type Forwarding } from './forwarding';
import { MacTable } from './macTable';

/**
 * On which of its ports each switch has each other switch: where it hears the addresses of that switch itself, or else where it hears most of the machines that
 * were found there. One machine's row may be old or missing; a hundred are not.
 */
export class Directions {
  /** switch × switches + other switch → port */
  readonly #ports = new MacTable(1 << 12);
  /** port → switches that lie behind it */
  readonly #behind: number[][];

  /**
   * @param owners by MAC: the switch whose own address it is, or −1
   * @param homes by MAC: the switch it was found at, or −1
   * @param adjacent neighbours by their own word: nothing is surer
   */
  constructor(readonly forwarding: Forwarding, owners: Int32Array, homes: Int32Array, adjacent: readonly Adjacent[]) {
    const { devices, ports, byPort, macOf } = forwarding;
    const count = devices.length;
    const most = new MacTable(1 << 12);
    const stamps = new Int32Array(count);
    for (let port = 0; port < ports.length; port++) {
      const here = ports[port]?.device ?? 0;
      // how many say so, of all rows of this port at once
      const seen: number[] = [];
      for (const row of rowsOf(byPort, port)) {
        const mac = macOf[row] ?? 0;
        const owner = owners[mac] ?? -1;
        const there = owner >= 0 ? owner : (homes[mac] ?? -1);
        if (there < 0 || there === here) continue;
        if (stamps[there] === 0) seen.push(there);
        stamps[there] = (stamps[there] ?? 0) + (owner >= 0 ? 1000 : 1);
      }
      for (const there of seen) {
        const key = here * count + there;
        const votes = stamps[there] ?? 0;
        stamps[there] = 0;
        if (votes > most.get(key)) {
          most.set(key, votes);
          this.#ports.set(key, port);
        }
      }
    }
    const places = new Map(ports.map(({ device, name }, port) => [`${device} ${name}`, port]));
    for (const { from, port, to } of adjacent) {
      const place = places.get(`${from} ${port}`);
      if (place !== undefined) this.#ports.set(from * count + to, place);
    }
    this.#behind = ports.map(() => []);
    this.#ports.forEach((key, port) => this.#behind[port]?.push(key % count));
    this.#complete();
  }

  /**
   * Where a switch never heard another one that hears it: what the other has on different ports than this one lies beyond it, so it is where those are. In a tree
   * that is sure of each of them; some are asked, since a row may be old.
   */
  #complete(): void {
    const { devices, firstPort } = this.forwarding;
    const count = devices.length;
    const found: [key: number, port: number][] = [];
    this.#ports.forEach((key, towards) => {
      const [here, there] = [Math.floor(key / count), key % count];
      if (this.port(there, here) >= 0) return;
      const votes = new Map<number, number>();
      let asked = 0;
      for (let port = firstPort[there] ?? 0, end = firstPort[there + 1] ?? 0; port < end && asked < enough; port++) {
        for (const third of this.behind(port)) {
          const known = this.port(here, third);
          if (known < 0 || known === towards) continue;
          votes.set(port, (votes.get(port) ?? 0) + 1);
          if (++asked === enough) break;
        }
      }
      const [best] = [...votes].sort((x, y) => y[1] - x[1] || x[0] - y[0]);
      if (best && best[1] * 2 > asked) found.push([there * count + here, best[0]]);
    });
    for (const [key, port] of found) {
      this.#ports.set(key, port);
      this.#behind[port]?.push(key % count);
    }
  }

  /** The port of a switch that leads to another; −1 where nobody knows. */
  port(from: number, to: number): number {
    return this.#ports.get(from * this.forwarding.devices.length + to);
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

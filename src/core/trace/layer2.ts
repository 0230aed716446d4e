import { carriesVlan } from '../estate/carriesVlan';
import type { PortFacts, Role } from '../estate/facts';
import type { LinkFacts } from '../topology/links';
import { linkKey } from '../topology/links';
import { compareNaturally } from '../values/naturalOrder';

/** What frames may cross. */
export interface BridgedNetwork {
  roleOf: (deviceId: number) => Role | undefined;
  nameOf: (deviceId: number) => string;
  portOf: (deviceId: number, port: string) => PortFacts | undefined;
  links: readonly LinkFacts[];
}

/** Where a way begins or ends: at a port of a device, or at the device itself. */
export interface Attachment {
  deviceId: number;
  port: string | null;
}

/** One device on the way. */
export interface BridgeHop {
  deviceId: number;
  /** the port by which frames come in and go out; null at the ends where they begin or stop there */
  in: string | null;
  out: string | null;
  /** the link by which it leaves */
  link: string | null;
}

export interface BridgedWay {
  hops: BridgeHop[];
  /** why it does not arrive, in words; null where it does */
  gap: string | null;
}

interface Step {
  link: LinkFacts;
  from: number;
  out: string;
  to: number;
  in: string;
}

/** A port that tells no VLAN may carry any. */
const mayCarry = (port: PortFacts | undefined, vlan: number | null): boolean =>
  vlan === null ||
  port === undefined ||
  (port.vlan === null && port.taggedVlans.length === 0) ||
  carriesVlan(port, vlan);

/**
 * The way of frames of a VLAN from one place to another over the links that forward: those that rest and those of which an end does not carry the VLAN are not crossed (IEEE 802.1D, 802.1Q). The fewest links; of several the one that
 * is surest. Where there is none, the way is told as far as it goes, and what stops it. Breadth-first, linear in the links.
 * @param vlan null where it is not known: then every link is crossed that does not rest
 */
export class BridgedWays {
  readonly #around = new Map<number, Step[]>();

  constructor(readonly network: BridgedNetwork) {
    for (const link of network.links) {
      const { a, b, kind } = link;
      if (kind === 'l3' || kind === 'stack' || a.deviceId === b.deviceId) continue;
      this.#add({ link, from: a.deviceId, out: a.port, to: b.deviceId, in: b.port });
      this.#add({ link, from: b.deviceId, out: b.port, to: a.deviceId, in: a.port });
    }
    const sureness = { confirmed: 0, claimed: 1, concluded: 2 };
    for (const steps of this.#around.values())
      steps.sort(
        (x, y) =>
          sureness[x.link.confidence] - sureness[y.link.confidence] ||
          compareNaturally(network.nameOf(x.to), network.nameOf(y.to)) ||
          compareNaturally(x.out, y.out),
      );
  }

  #add(step: Step): void {
    const known = this.#around.get(step.from);
    if (known) known.push(step);
    else this.#around.set(step.from, [step]);
  }

  way(from: Attachment, to: Attachment, vlan: number | null): BridgedWay {
    const open = this.#search(from.deviceId, to.deviceId, (step) => this.#stops(step, vlan) === null);
    if (open) return { hops: hopsOf(from, to, open), gap: null };
    const any = this.#search(from.deviceId, to.deviceId, () => true);
    if (!any)
      return {
        hops: [{ deviceId: from.deviceId, in: from.port, out: null, link: null }],
        gap: `no link is known by which ${this.network.nameOf(from.deviceId)} and ${this.network.nameOf(to.deviceId)} are joined`,
      };
    const stopped = any.findIndex((step) => this.#stops(step, vlan) !== null);
    const step = any[stopped];
    const reached = any.slice(0, Math.max(0, stopped));
    const last = reached.at(-1);
    const hops = hopsOf(from, { deviceId: last?.to ?? from.deviceId, port: null }, reached);
    return { hops, gap: step ? (this.#stops(step, vlan) ?? '') : '' };
  }

  /** Why frames do not cross, in words; null where they do. */
  #stops({ link, from, out, to, in: into }: Step, vlan: number | null): string | null {
    const { nameOf, portOf } = this.network;
    const words = (device: number, port: string) => `${nameOf(device)} ${port}`.trimEnd();
    if (link.blocked) return `the link ${words(from, out)} – ${words(to, into)} rests: spanning tree blocks it`;
    for (const [device, port] of [
      [from, out],
      [to, into],
    ] as const) {
      const facts = portOf(device, port);
      if (facts?.oper === 'down') return `${words(device, port)} is down`;
      if (!mayCarry(facts, vlan)) return `${words(device, port)} does not carry VLAN ${vlan ?? ''}`;
    }
    return null;
  }

  #search(from: number, to: number, crosses: (step: Step) => boolean): Step[] | null {
    const came = new Map<number, Step | null>([[from, null]]);
    const queue = [from];
    for (const at of queue) {
      if (at === to) break;
      // what hangs at an end passes nothing on
      if (at !== from && this.network.roleOf(at) !== 'switch') continue;
      for (const step of this.#around.get(at) ?? []) {
        if (came.has(step.to) || !crosses(step)) continue;
        came.set(step.to, step);
        queue.push(step.to);
      }
    }
    if (!came.has(to)) return null;
    const steps: Step[] = [];
    for (let at = to; at !== from;) {
      const step = came.get(at);
      if (!step) break;
      steps.push(step);
      at = step.from;
    }
    return steps.reverse();
  }
}

function hopsOf(from: Attachment, to: Attachment, steps: readonly Step[]): BridgeHop[] {
  const hops: BridgeHop[] = [];
  let into = from.port;
  for (const { link, from: at, out, in: next } of steps) {
    hops.push({ deviceId: at, in: into, out, link: linkKey(link.a, link.b) });
    into = next;
  }
  hops.push({ deviceId: to.deviceId, in: into, out: to.port, link: null });
  return hops;
}

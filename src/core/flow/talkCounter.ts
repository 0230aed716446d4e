import { AddressBook, mixed } from './addressBook';
import type { FlowFields } from './flowDecoder';
import { ackFlag, finFlag, rstFlag, synFlag, tcp, type PacketFields } from './packet';
import { isServerPort, type IsListener, type ServerBasis, type Talk } from './talk';

const hourSeconds = 3600;
const firstSlots = 4096;
const mostFilled = 0.6;
/** So many flows are held at once; then those that are over, or were quiet for long, are counted and forgotten. */
const mostFlows = 262_144;
const quietSeconds = 120;

const [icmp, icmpv6] = [1, 58];
const [nobody, low, high] = [0, 1, 2];

interface Counted extends Omit<Talk, 'hours'> {
  hours: Set<number>;
}

/**
 * Counts packets as talk. Packets between the same two ports are one flow, whichever way they go; a flow that is over, or was quiet for long, is one event of its conversation. Only flows that
 * go on are held, in typed arrays: what is held grows with who talks to whom, not with how much they say.
 */
export class TalkCounter {
  readonly #book = new AddressBook();
  readonly #talks = new Map<string, Counted>();
  #slots = new Int32Array(firstSlots).fill(-1);
  #lows = new Int32Array(firstSlots);
  #highs = new Int32Array(firstSlots);
  /** port of the low address times 2^16, and of the high one */
  #ports = new Uint32Array(firstSlots);
  #protocols = new Uint8Array(firstSlots);
  /** who opened it */
  #openers = new Uint8Array(firstSlots);
  #overs = new Uint8Array(firstSlots);
  /** whether it was counted as an event already */
  #counted = new Uint8Array(firstSlots);
  /** by flow: packets and octets sent by the low address, then by the high one */
  #counts = new Float64Array(firstSlots * 4);
  #firsts = new Float64Array(firstSlots);
  #lasts = new Float64Array(firstSlots);
  #flows = 0;
  #now = 0;

  /** @param isListener who is known to serve, before anything a packet says */
  constructor(public isListener: IsListener = () => false) {}

  /** Conversations so far, those of flows that go on left out. */
  get size(): number {
    return this.#talks.size;
  }

  /** Takes a packet. @param at seconds since the epoch */
  add(octets: Uint8Array, fields: PacketFields, at: number): void {
    // a later fragment tells no ports: its octets are not counted, where they belong is not known
    if (fields.isFragment) return;
    const source = this.#book.numberOf(octets, fields.sourceAt, fields.family);
    const destination = this.#book.numberOf(octets, fields.destinationAt, fields.family);
    this.#count(
      source,
      destination,
      fields.sourcePort,
      fields.destinationPort,
      fields.protocol,
      fields.flags,
      1,
      fields.length,
      at,
      at,
    );
  }

  /** Takes what an exporter counted of one direction. */
  addFlow(octets: Uint8Array, fields: FlowFields): void {
    const { family, sourceAt, destinationAt, sourcePort, destinationPort, protocol } = fields;
    if (fields.packets <= 0 && fields.octets <= 0) return;
    this.#count(
      this.#book.numberOf(octets, sourceAt, family),
      this.#book.numberOf(octets, destinationAt, family),
      sourcePort,
      // ICMP has its type and code there
      protocol === icmp || protocol === icmpv6 ? 0 : destinationPort,
      protocol,
      0,
      fields.packets,
      fields.octets,
      fields.from,
      fields.until,
    );
  }

  #count(
    source: number,
    destination: number,
    sourcePort: number,
    destinationPort: number,
    protocol: number,
    flags: number,
    packets: number,
    length: number,
    from: number,
    until: number,
  ): void {
    const isLow = source < destination || (source === destination && sourcePort <= destinationPort);
    const flow = isLow
      ? this.#flow(source, destination, sourcePort, destinationPort, protocol)
      : this.#flow(destination, source, destinationPort, sourcePort, protocol);
    const isNew = this.#counts[flow * 4] === 0 && this.#counts[flow * 4 + 2] === 0 && this.#counted[flow] === 0;
    if (isNew) this.#firsts[flow] = from;
    // what was said in another hour is counted with that hour
    else if (Math.floor(from / hourSeconds) !== Math.floor((this.#lasts[flow] ?? 0) / hourSeconds)) {
      this.#settle(flow);
      this.#firsts[flow] = from;
      this.#lasts[flow] = from;
    }
    const side = flow * 4 + (isLow ? 0 : 2);
    this.#counts[side] = (this.#counts[side] ?? 0) + packets;
    this.#counts[side + 1] = (this.#counts[side + 1] ?? 0) + length;
    this.#lasts[flow] = Math.max(this.#lasts[flow] ?? 0, until);
    if (until > this.#now) this.#now = until;
    if (protocol === tcp) {
      if ((flags & (synFlag | ackFlag)) === synFlag) this.#openers[flow] = isLow ? low : high;
      else if ((flags & (synFlag | ackFlag)) === (synFlag | ackFlag)) this.#openers[flow] = isLow ? high : low;
      if (flags & (finFlag | rstFlag)) this.#overs[flow] = 1;
    }
    // where there are no ports, who speaks first asks
    else if (this.#openers[flow] === nobody && sourcePort === 0 && destinationPort === 0)
      this.#openers[flow] = isLow ? low : high;
  }

  /** How many addresses were met: what is held grows with them. */
  get addresses(): number {
    return this.#book.size;
  }

  /** Tells what was said since the last time. What goes on is no other event the next time; what is over, or quiet for long, is forgotten. */
  taken(): Talk[] {
    for (let flow = 0; flow < this.#flows; flow++) this.#settle(flow);
    this.#forget((flow) => this.#overs[flow] === 1 || (this.#lasts[flow] ?? 0) < this.#now - quietSeconds);
    const talks = this.#told();
    this.#talks.clear();
    return talks;
  }

  /** Ends what goes on, and tells all there was, in the order of who asked and who was asked. */
  end(): Talk[] {
    for (let flow = 0; flow < this.#flows; flow++) this.#settle(flow);
    this.#forget(() => true);
    return this.#told();
  }

  #told(): Talk[] {
    return [...this.#talks.values()].map((talk) => ({ ...talk, hours: [...talk.hours].sort((x, y) => x - y) }));
  }

  #flow(lowNumber: number, highNumber: number, lowPort: number, highPort: number, protocol: number): number {
    const ports = ((lowPort << 16) | highPort) >>> 0;
    for (;;) {
      const mask = this.#slots.length - 1;
      let slot = mixed(lowNumber, highNumber, ports, protocol) & mask;
      for (; ; slot = (slot + 1) & mask) {
        const flow = this.#slots[slot] ?? -1;
        if (flow < 0) break;
        if (
          this.#lows[flow] === lowNumber &&
          this.#highs[flow] === highNumber &&
          this.#ports[flow] === ports &&
          this.#protocols[flow] === protocol
        )
          return flow;
      }
      if (this.#flows < this.#lows.length && this.#flows < this.#slots.length * mostFilled) {
        const flow = this.#flows++;
        this.#slots[slot] = flow;
        this.#lows[flow] = lowNumber;
        this.#highs[flow] = highNumber;
        this.#ports[flow] = ports;
        this.#protocols[flow] = protocol;
        this.#openers[flow] = nobody;
        this.#overs[flow] = 0;
        this.#counted[flow] = 0;
        this.#counts.fill(0, flow * 4, flow * 4 + 4);
        this.#lasts[flow] = 0;
        return flow;
      }
      this.#makeRoom();
    }
  }

  #makeRoom(): void {
    if (this.#lows.length < mostFlows) return this.#grow();
    this.#forget((flow) => this.#overs[flow] === 1 || (this.#lasts[flow] ?? 0) < this.#now - quietSeconds);
    // all of them go on: then the half that was heard longest ago is counted as it stands
    if (this.#flows > mostFlows / 2) {
      const ordered = Float64Array.from(this.#lasts.subarray(0, this.#flows)).sort();
      const middle = ordered[this.#flows >> 1] ?? 0;
      this.#forget((flow) => (this.#lasts[flow] ?? 0) <= middle);
    }
  }

  #grow(): void {
    const length = this.#lows.length * 2;
    const larger = <List extends Int32Array | Uint32Array | Uint8Array | Float64Array>(
      list: List,
      make: (length: number) => List,
      width = 1,
    ): List => {
      const grown = make(length * width);
      grown.set(list);
      return grown;
    };
    this.#lows = larger(this.#lows, (size) => new Int32Array(size));
    this.#highs = larger(this.#highs, (size) => new Int32Array(size));
    this.#ports = larger(this.#ports, (size) => new Uint32Array(size));
    this.#protocols = larger(this.#protocols, (size) => new Uint8Array(size));
    this.#openers = larger(this.#openers, (size) => new Uint8Array(size));
    this.#overs = larger(this.#overs, (size) => new Uint8Array(size));
    this.#counted = larger(this.#counted, (size) => new Uint8Array(size));
    this.#counts = larger(this.#counts, (size) => new Float64Array(size), 4);
    this.#firsts = larger(this.#firsts, (size) => new Float64Array(size));
    this.#lasts = larger(this.#lasts, (size) => new Float64Array(size));
    this.#index(length * 2);
  }

  /** Counts flows of which one is sure, and closes the gaps they leave. */
  #forget(isOver: (flow: number) => boolean): void {
    let kept = 0;
    for (let flow = 0; flow < this.#flows; flow++) {
      if (isOver(flow)) {
        this.#settle(flow);
        continue;
      }
      if (kept !== flow) {
        for (const list of [
          this.#lows,
          this.#highs,
          this.#ports,
          this.#protocols,
          this.#openers,
          this.#overs,
          this.#counted,
          this.#firsts,
          this.#lasts,
        ])
          list[kept] = list[flow] ?? 0;
        this.#counts.copyWithin(kept * 4, flow * 4, flow * 4 + 4);
      }
      kept++;
    }
    this.#flows = kept;
    this.#index(this.#slots.length);
  }

  #index(length: number): void {
    const slots = new Int32Array(length).fill(-1);
    const mask = length - 1;
    for (let flow = 0; flow < this.#flows; flow++) {
      let slot =
        mixed(this.#lows[flow] ?? 0, this.#highs[flow] ?? 0, this.#ports[flow] ?? 0, this.#protocols[flow] ?? 0) & mask;
      while ((slots[slot] ?? -1) >= 0) slot = (slot + 1) & mask;
      slots[slot] = flow;
    }
    this.#slots = slots;
  }

  /** What a flow has said so far goes to its conversation; it may go on afterwards, and is no other event then. */
  #settle(flow: number): void {
    const [lowPackets = 0, lowOctets = 0, highPackets = 0, highOctets = 0] = this.#counts.subarray(
      flow * 4,
      flow * 4 + 4,
    );
    if (lowPackets + highPackets === 0) return;
    const protocol = this.#protocols[flow] ?? 0;
    const ports = this.#ports[flow] ?? 0;
    const [lowPort, highPort] = [ports >>> 16, ports & 0xffff];
    const [lowText, highText] = [this.#book.text(this.#lows[flow] ?? 0), this.#book.text(this.#highs[flow] ?? 0)];
    const { isLow, basis } = this.#server(flow, lowText, lowPort, highText, highPort, protocol);
    const [client, server, port] = isLow ? [highText, lowText, lowPort] : [lowText, highText, highPort];
    const key = `${client} ${server} ${port} ${protocol}`;
    const [first, last] = [this.#firsts[flow] ?? 0, this.#lasts[flow] ?? 0];
    let talk = this.#talks.get(key);
    if (!talk)
      this.#talks.set(
        key,
        (talk = {
          client,
          server,
          port,
          protocol,
          basis,
          events: 0,
          packets: { toServer: 0, toClient: 0 },
          octets: { toServer: 0, toClient: 0 },
          firstSeen: first,
          lastSeen: last,
          hours: new Set(),
        }),
      );
    if (better(basis, talk.basis)) talk.basis = basis;
    if (this.#counted[flow] === 0) talk.events++;
    talk.packets.toServer += isLow ? highPackets : lowPackets;
    talk.packets.toClient += isLow ? lowPackets : highPackets;
    talk.octets.toServer += isLow ? highOctets : lowOctets;
    talk.octets.toClient += isLow ? lowOctets : highOctets;
    talk.firstSeen = Math.min(talk.firstSeen, first);
    talk.lastSeen = Math.max(talk.lastSeen, last);
    for (let hour = Math.floor(first / hourSeconds); hour <= Math.floor(last / hourSeconds); hour++)
      talk.hours.add(hour);
    this.#counted[flow] = 1;
    this.#counts.fill(0, flow * 4, flow * 4 + 4);
    this.#firsts[flow] = last;
  }

  #server(
    flow: number,
    lowText: string,
    lowPort: number,
    highText: string,
    highPort: number,
    protocol: number,
  ): { isLow: boolean; basis: ServerBasis } {
    const [listensLow, listensHigh] = [
      this.isListener(lowText, protocol, lowPort),
      this.isListener(highText, protocol, highPort),
    ];
    if (listensLow !== listensHigh) return { isLow: listensLow, basis: 'listener' };
    const opener = this.#openers[flow] ?? nobody;
    if (opener !== nobody) return { isLow: opener === high, basis: 'opening' };
    return { isLow: isServerPort(lowPort, highPort), basis: 'port' };
  }
}

const order: ServerBasis[] = ['port', 'opening', 'listener'];
const better = (one: ServerBasis, other: ServerBasis): boolean => order.indexOf(one) > order.indexOf(other);

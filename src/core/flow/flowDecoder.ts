/** What a flow record tells: who sent to whom, one way, how much and when. One object is filled anew for each record. */
export class FlowFields {
  /** 4 or 6 */
  family = 4;
  protocol = 0;
  /** where the addresses stand in the datagram */
  sourceAt = -1;
  destinationAt = -1;
  sourcePort = 0;
  destinationPort = 0;
  /** as counted, times the sampling of the exporter */
  packets = 0;
  octets = 0;
  /** seconds since the epoch */
  from = 0;
  until = 0;
}

/** What became of one exporter’s datagrams. */
export interface ExporterState {
  exporter: string;
  version: 5 | 9 | 10;
  /** source id, observation domain or engine */
  domain: number;
  datagrams: number;
  records: number;
  /** records, or datagrams with version 9, that were sent and never came, by their numbers */
  missed: number;
  /** the numbers began anew: it was restarted */
  restarts: number;
  /** sets whose template has not come yet, and those that were given up */
  waiting: number;
  givenUp: number;
  /** one packet of so many was counted */
  sampling: number;
}

/** Why a datagram tells nothing. */
export class FlowError extends Error {
  constructor(reason: string) {
    super(reason);
    this.name = 'FlowError';
  }
}

interface TemplateField {
  id: number;
  /** of enterprises: counted over, never read */
  isForeign: boolean;
  /** 65535: it tells its own length (RFC 7011 section 7) */
  length: number;
}
interface Template {
  fields: TemplateField[];
  /** how many of them say what the rest is about; null for records of flows */
  scopes: number | null;
  least: number;
}
interface Domain {
  state: ExporterState;
  templates: Map<number, Template>;
  next: number | null;
  waiting: { octets: Uint8Array; from: number; until: number; template: number; clock: Clock }[];
}
interface Clock {
  /** seconds since the epoch as the exporter tells it */
  now: number;
  /** of its sysUpTime at that moment, seconds; null where it tells none */
  upFor: number | null;
}

const variable = 0xffff;
const mostTemplates = 4096;
const mostFields = 1024;
const mostWaiting = 64;
/** A number that lies so far back is no late datagram: the exporter began anew. */
const restartsBehind = 10_000;
const mostDomains = 4096;

/** Information elements (IANA IPFIX; those of version 9 have the same numbers). */
const elements = {
  octets: 1,
  packets: 2,
  protocol: 4,
  sourcePort: 7,
  sourceIpv4: 8,
  destinationPort: 11,
  destinationIpv4: 12,
  lastSwitched: 21,
  firstSwitched: 22,
  sourceIpv6: 27,
  destinationIpv6: 28,
  samplingInterval: 34,
  randomInterval: 50,
  totalOctets: 85,
  totalPackets: 86,
  startSeconds: 150,
  endSeconds: 151,
  startMilliseconds: 152,
  endMilliseconds: 153,
  systemInit: 160,
  packetInterval: 305,
  packetSpace: 306,
} as const;

/**
 * NetFlow version 5 and 9 (RFC 3954) and IPFIX (RFC 7011): templates by exporter and domain, those that come late, sampling by options, numbers that tell what was lost.
 * A datagram that is none is refused as a whole; what is behind a set that cannot be read is left.
 */
export class FlowDecoder {
  readonly #domains = new Map<string, Domain>();
  readonly #fields = new FlowFields();

  /** @param take is given each record; the object is filled anew for the next one */
  constructor(readonly take: (octets: Uint8Array, fields: FlowFields, exporter: string) => void) {}

  states(): ExporterState[] {
    return [...this.#domains.values()].map(({ state, waiting }) => ({ ...state, waiting: waiting.length }));
  }

  /** @throws FlowError; records before the fault were taken */
  decode(exporter: string, datagram: Uint8Array): void {
    const view = new DataView(datagram.buffer, datagram.byteOffset, datagram.byteLength);
    const version = datagram.length >= 2 ? view.getUint16(0) : 0;
    switch (version) {
      case 5:
        return this.#version5(exporter, datagram, view);
      case 9:
        return this.#version9(exporter, datagram, view);
      case 10:
        return this.#ipfix(exporter, datagram, view);
      default:
        throw new FlowError(`version ${version} is none of 5, 9 and 10`);
    }
  }

  #domain(exporter: string, version: 5 | 9 | 10, number: number): Domain {
    const key = `${exporter} ${version} ${number}`;
    let domain = this.#domains.get(key);
    if (!domain) {
      if (this.#domains.size >= mostDomains) throw new FlowError(`more than ${mostDomains} exporters and domains`);
      const state: ExporterState = {
        exporter,
        version,
        domain: number,
        datagrams: 0,
        records: 0,
        missed: 0,
        restarts: 0,
        waiting: 0,
        givenUp: 0,
        sampling: 1,
      };
      this.#domains.set(key, (domain = { state, templates: new Map(), next: null, waiting: [] }));
    }
    domain.state.datagrams++;
    return domain;
  }

  #version5(exporter: string, octets: Uint8Array, view: DataView): void {
    const count = octets.length >= 24 ? view.getUint16(2) : 0;
    if (count === 0 || count > 30 || octets.length < 24 + count * 48)
      throw new FlowError(`a datagram of ${octets.length} octets cannot hold ${count} records of version 5`);
    const domain = this.#domain(exporter, 5, view.getUint16(20));
    const upFor = view.getUint32(4) / 1000;
    const now = view.getUint32(8) + view.getUint32(12) / 1e9;
    domain.state.sampling = Math.max(1, view.getUint16(22) & 0x3fff);
    this.#follow(domain, view.getUint32(16), count);
    const fields = this.#fields;
    for (let at = 24; at < 24 + count * 48; at += 48) {
      fields.family = 4;
      fields.sourceAt = at;
      fields.destinationAt = at + 4;
      fields.packets = view.getUint32(at + 16) * domain.state.sampling;
      fields.octets = view.getUint32(at + 20) * domain.state.sampling;
      fields.from = now - upFor + view.getUint32(at + 24) / 1000;
      fields.until = now - upFor + view.getUint32(at + 28) / 1000;
      fields.sourcePort = view.getUint16(at + 32);
      fields.destinationPort = view.getUint16(at + 34);
      fields.protocol = view.getUint8(at + 38);
      this.#hand(octets, domain);
    }
  }

  #version9(exporter: string, octets: Uint8Array, view: DataView): void {
    if (octets.length < 20) throw new FlowError('a head of version 9 that is cut off');
    const domain = this.#domain(exporter, 9, view.getUint32(16));
    const clock: Clock = { now: view.getUint32(8), upFor: view.getUint32(4) / 1000 };
    // datagrams are numbered
    this.#follow(domain, view.getUint32(12), 1);
    this.#sets(domain, octets, view, 20, octets.length, clock, [0, 1]);
  }

  #ipfix(exporter: string, octets: Uint8Array, view: DataView): void {
    const length = octets.length >= 16 ? view.getUint16(2) : 0;
    if (length < 16 || length > octets.length) throw new FlowError(`a message of ${length} octets in ${octets.length}`);
    const domain = this.#domain(exporter, 10, view.getUint32(12));
    const before = domain.state.records;
    const clock: Clock = { now: view.getUint32(4), upFor: null };
    try {
      this.#sets(domain, octets, view, 16, length, clock, [2, 3]);
    } finally {
      // records are numbered; those of a template that is missing are not known to be as many as they are
      const records = domain.state.records - before;
      this.#follow(domain, view.getUint32(8), records);
    }
  }

  /** Numbers that are left out are lost; one far behind begins anew. */
  #follow(domain: Domain, number: number, count: number): void {
    if (domain.next !== null) {
      const ahead = (number - domain.next) >>> 0;
      const behind = (domain.next - number) >>> 0;
      if (ahead > 0 && ahead < 2 ** 31) domain.state.missed += ahead;
      else if (behind >= restartsBehind) {
        domain.state.restarts++;
        // what it meant by its templates may be another thing now
        domain.templates.clear();
      } else if (behind > 0) {
        // it comes late, and was counted as lost
        domain.state.missed = Math.max(0, domain.state.missed - count);
        return;
      }
    }
    domain.next = (number + count) >>> 0;
  }

  #sets(
    domain: Domain,
    octets: Uint8Array,
    view: DataView,
    start: number,
    end: number,
    clock: Clock,
    [templates, options]: [number, number],
  ): void {
    for (let at = start; at + 4 <= end;) {
      const [id, length] = [view.getUint16(at), view.getUint16(at + 2)];
      if (length < 4 || at + length > end) throw new FlowError(`a set of ${length} octets at octet ${at}`);
      const [from, until] = [at + 4, at + length];
      if (id === templates || id === options) this.#templates(domain, view, from, until, id === options);
      else if (id >= 256) this.#data(domain, octets, from, until, id, clock);
      at = until;
    }
  }

  #templates(domain: Domain, view: DataView, start: number, end: number, areOptions: boolean): void {
    const isIpfix = domain.state.version === 10;
    for (let at = start; at + 4 <= end;) {
      const id = view.getUint16(at);
      if (id < 256) return;
      let [count, scopes, here] = [view.getUint16(at + 2), 0, at + 4];
      if (areOptions && (count > 0 || !isIpfix)) {
        if (at + 6 > end) throw new FlowError('a template that is cut off');
        if (isIpfix) scopes = view.getUint16(at + 4);
        else {
          // version 9 tells both lengths in octets
          scopes = count / 4;
          count = (count + view.getUint16(at + 4)) / 4;
        }
        here = at + 6;
      }
      if (!Number.isInteger(count) || count > mostFields) throw new FlowError(`a template of ${count} fields`);
      const fields: TemplateField[] = [];
      for (let field = 0; field < count; field++) {
        if (here + 4 > end) throw new FlowError('a template that is cut off');
        const [told, length] = [view.getUint16(here), view.getUint16(here + 2)];
        const isForeign = isIpfix && (told & 0x8000) !== 0;
        if (isForeign && here + 8 > end) throw new FlowError('a template that is cut off');
        fields.push({ id: told & (isIpfix ? 0x7fff : 0xffff), isForeign, length });
        here += isForeign ? 8 : 4;
      }
      // one without fields takes back what it was before (RFC 7011 section 8.1)
      if (count === 0) domain.templates.delete(id);
      else if (domain.templates.size < mostTemplates || domain.templates.has(id))
        domain.templates.set(id, {
          fields,
          scopes: areOptions ? scopes : null,
          least: fields.reduce((sum, { length }) => sum + (length === variable ? 1 : length), 0),
        });
      at = here;
      this.#takeUp(domain, id);
    }
  }

  /** Sets that waited for their template. */
  #takeUp(domain: Domain, id: number): void {
    const ready = domain.waiting.filter(({ template }) => template === id);
    if (ready.length === 0 || !domain.templates.has(id)) return;
    domain.waiting = domain.waiting.filter(({ template }) => template !== id);
    for (const { octets, from, until, clock } of ready) this.#data(domain, octets, from, until, id, clock);
  }

  #data(domain: Domain, octets: Uint8Array, start: number, end: number, id: number, clock: Clock): void {
    const template = domain.templates.get(id);
    if (!template) {
      if (domain.waiting.length >= mostWaiting) {
        domain.waiting.shift();
        domain.state.givenUp++;
      }
      // a copy of its own: the datagram belongs to whoever received it
      domain.waiting.push({ octets: octets.slice(start, end), from: 0, until: end - start, template: id, clock });
      return;
    }
    if (template.least === 0) return;
    const view = new DataView(octets.buffer, octets.byteOffset, octets.byteLength);
    // what is left over is padding
    for (let at = start; at + template.least <= end;) {
      const next = this.#record(domain, template, octets, view, at, end, clock);
      if (next === null) return;
      at = next;
    }
  }

  #record(
    domain: Domain,
    template: Template,
    octets: Uint8Array,
    view: DataView,
    start: number,
    end: number,
    clock: Clock,
  ): number | null {
    const fields = this.#fields;
    fields.sourceAt = fields.destinationAt = -1;
    fields.sourcePort = fields.destinationPort = fields.protocol = fields.packets = fields.octets = 0;
    let from: number | null = null;
    let until: number | null = null;
    let first: number | null = null;
    let last: number | null = null;
    let init: number | null = null;
    let sampling = 0;
    let space = 0;
    let at = start;
    for (const { id, isForeign, length: told } of template.fields) {
      let length = told;
      if (told === variable) {
        if (at + 1 > end) return null;
        length = view.getUint8(at++);
        if (length === 255) {
          if (at + 2 > end) return null;
          length = view.getUint16(at);
          at += 2;
        }
      }
      if (at + length > end) return null;
      if (!isForeign)
        switch (id) {
          case elements.octets:
          case elements.totalOctets:
            fields.octets = unsigned(view, at, length);
            break;
          case elements.packets:
          case elements.totalPackets:
            fields.packets = unsigned(view, at, length);
            break;
          case elements.protocol:
            fields.protocol = unsigned(view, at, length);
            break;
          case elements.sourcePort:
            fields.sourcePort = unsigned(view, at, length);
            break;
          case elements.destinationPort:
            fields.destinationPort = unsigned(view, at, length);
            break;
          case elements.sourceIpv4:
          case elements.sourceIpv6:
            if (length === (id === elements.sourceIpv4 ? 4 : 16) && !isNothing(octets, at, length)) {
              fields.sourceAt = at;
              fields.family = length === 4 ? 4 : 6;
            }
            break;
          case elements.destinationIpv4:
          case elements.destinationIpv6:
            if (length === (id === elements.destinationIpv4 ? 4 : 16) && !isNothing(octets, at, length))
              fields.destinationAt = at;
            break;
          case elements.firstSwitched:
            first = unsigned(view, at, length) / 1000;
            break;
          case elements.lastSwitched:
            last = unsigned(view, at, length) / 1000;
            break;
          case elements.startSeconds:
            from = unsigned(view, at, length);
            break;
          case elements.endSeconds:
            until = unsigned(view, at, length);
            break;
          case elements.startMilliseconds:
            from = unsigned(view, at, length) / 1000;
            break;
          case elements.endMilliseconds:
            until = unsigned(view, at, length) / 1000;
            break;
          case elements.systemInit:
            init = unsigned(view, at, length) / 1000;
            break;
          case elements.samplingInterval:
          case elements.randomInterval:
          case elements.packetInterval:
            sampling = unsigned(view, at, length);
            break;
          case elements.packetSpace:
            space = unsigned(view, at, length);
        }
      at += length;
    }
    if (template.scopes !== null) {
      // so many in a row are counted, and as many as the space says are not (RFC 5477)
      if (sampling) domain.state.sampling = space ? (sampling + space) / sampling : sampling;
      if (domain.state.version === 10) domain.state.records++;
      return at;
    }
    const began = init ?? (clock.upFor === null ? null : clock.now - clock.upFor);
    fields.from = from ?? (first !== null && began !== null ? began + first : clock.now);
    fields.until = until ?? (last !== null && began !== null ? began + last : Math.max(fields.from, clock.now));
    fields.packets *= domain.state.sampling;
    fields.octets *= domain.state.sampling;
    if (fields.sourceAt < 0 || fields.destinationAt < 0) domain.state.records++;
    else this.#hand(octets, domain);
    return at;
  }

  #hand(octets: Uint8Array, domain: Domain): void {
    domain.state.records++;
    this.take(octets, this.#fields, domain.state.exporter);
  }
}

/** Integers may be told in fewer octets than they have (RFC 7011 section 6.2); beyond 2^53 nobody counts here. */
function unsigned(view: DataView, at: number, length: number): number {
  let value = 0;
  for (let octet = 0; octet < Math.min(length, 8); octet++) value = value * 256 + view.getUint8(at + octet);
  return value;
}

/** One template may hold the addresses of both families: that which the flow does not have is all noughts. */
function isNothing(octets: Uint8Array, at: number, length: number): boolean {
  for (let octet = 0; octet < length; octet++) if (octets[at + octet]) return false;
  return true;
}

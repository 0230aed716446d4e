/**
 * Captures as they come, in pieces: pcap (draft-ietf-opsawg-pcap) and pcapng (draft-ietf-opsawg-pcapng). Only the piece at hand and what is left over of the one before are kept, whatever
 * the length of the file.
 */
export interface CapturedPacket {
  /** what holds the packet, from `start` to `end` */
  octets: Uint8Array;
  start: number;
  end: number;
  /** seconds since the epoch */
  at: number;
  linkType: number;
}

/** Why a capture cannot be read further, and where. */
export class CaptureError extends Error {
  constructor(
    reason: string,
    /** octets from the beginning of the file */
    readonly offset: number,
  ) {
    super(`${reason}, at octet ${offset}`);
    this.name = 'CaptureError';
  }
}

/** No packet is longer, nor any other block that is looked at: what says so is damaged. */
const longest = 64 * 1024 * 1024;
const mostInterfaces = 10_000;

const magics = { micro: 0xa1b2c3d4, nano: 0xa1b23c4d, sections: 0x0a0d0d0a, order: 0x1a2b3c4d } as const;
const blocks = { section: 0x0a0d0d0a, interface: 1, obsoletePacket: 2, simplePacket: 3, enhancedPacket: 6 } as const;
const ifTsresol = 9;
const ifTsoffset = 14;

interface CaptureInterface {
  linkType: number;
  /** of a packet that tells no length of its own */
  snapLength: number;
  unitsPerSecond: number;
  offsetSeconds: number;
}

export class CaptureReader {
  /** what is left of the piece before */
  #rest = new Uint8Array(0);
  #offset = 0;
  #format: 'unknown' | 'pcap' | 'pcapng' = 'unknown';
  #little = true;
  #linkType = 0;
  #unitsPerSecond = 1e6;
  #interfaces: CaptureInterface[] = [];
  /** the one object that is handed on */
  readonly #packet: CapturedPacket = { octets: this.#rest, start: 0, end: 0, at: 0, linkType: 0 };

  /** @param take is given each packet; the object is filled anew for the next one */
  constructor(readonly take: (packet: CapturedPacket) => void) {}

  /** @throws CaptureError where the file is none, or damaged; what came before was taken */
  push(piece: Uint8Array): void {
    const octets = this.#rest.length === 0 ? piece : joined(this.#rest, piece);
    const view = new DataView(octets.buffer, octets.byteOffset, octets.byteLength);
    let at = 0;
    for (;;) {
      const next = this.#step(octets, view, at);
      if (next === null) break;
      at = next;
    }
    this.#offset += at;
    // a copy: the piece belongs to whoever gave it
    this.#rest = octets.slice(at);
  }

  /** @throws CaptureError where the file was cut off within a packet, or is empty */
  end(): void {
    if (this.#format === 'unknown')
      throw new CaptureError(
        this.#rest.length === 0 && this.#offset === 0 ? 'the capture is empty' : 'this is no pcap or pcapng file',
        0,
      );
    if (this.#rest.length > 0) throw new CaptureError('the capture was cut off within a packet', this.#offset);
  }

  /** Reads one unit. @returns where the next begins; null where more is needed */
  #step(octets: Uint8Array, view: DataView, at: number): number | null {
    switch (this.#format) {
      case 'unknown':
        return this.#begin(octets, view, at);
      case 'pcap':
        return this.#record(octets, view, at);
      case 'pcapng':
        return this.#block(octets, view, at);
    }
  }

  #begin(octets: Uint8Array, view: DataView, at: number): number | null {
    if (octets.length < at + 4) return null;
    const magic = view.getUint32(at, true);
    if (magic === magics.sections) {
      this.#format = 'pcapng';
      return at;
    }
    const swapped = view.getUint32(at, false);
    const told = [magic, swapped].find((one) => one === magics.micro || one === magics.nano);
    if (told === undefined) throw new CaptureError('this is no pcap or pcapng file', this.#offset + at);
    if (octets.length < at + 24) return null;
    this.#little = told === magic;
    this.#unitsPerSecond = told === magics.nano ? 1e9 : 1e6;
    // the upper half tells of check sums
    this.#linkType = view.getUint32(at + 20, this.#little) & 0xffff;
    this.#format = 'pcap';
    return at + 24;
  }

  #record(octets: Uint8Array, view: DataView, at: number): number | null {
    if (octets.length < at + 16) return null;
    const length = view.getUint32(at + 8, this.#little);
    if (length > longest)
      throw new CaptureError(`a packet of ${length} octets: the capture is damaged`, this.#offset + at);
    if (octets.length < at + 16 + length) return null;
    const seconds = view.getUint32(at, this.#little);
    this.#hand(
      octets,
      at + 16,
      at + 16 + length,
      seconds + view.getUint32(at + 4, this.#little) / this.#unitsPerSecond,
      this.#linkType,
    );
    return at + 16 + length;
  }

  #block(octets: Uint8Array, view: DataView, at: number): number | null {
    if (octets.length < at + 12) return null;
    const type = view.getUint32(at, this.#little);
    if (type === blocks.section) {
      const order = view.getUint32(at + 8, true);
      if (order !== magics.order && view.getUint32(at + 8, false) !== magics.order)
        throw new CaptureError('a section without its byte order', this.#offset + at);
      this.#little = order === magics.order;
      // each section has interfaces of its own
      this.#interfaces = [];
    }
    const length = view.getUint32(at + 4, this.#little);
    if (length < 12 || length % 4 !== 0 || length > longest)
      throw new CaptureError(`a block of ${length} octets: the capture is damaged`, this.#offset + at);
    if (octets.length < at + length) return null;
    if (view.getUint32(at + length - 4, this.#little) !== length)
      throw new CaptureError('a block that tells two lengths: the capture is damaged', this.#offset + at);
    const bodyEnd = at + length - 4;
    switch (type) {
      case blocks.interface:
        this.#interface(view, at + 8, bodyEnd);
        break;
      case blocks.enhancedPacket:
        this.#enhanced(octets, view, at + 8, bodyEnd);
        break;
      case blocks.obsoletePacket:
        this.#obsolete(octets, view, at + 8, bodyEnd);
        break;
      case blocks.simplePacket:
        this.#simple(octets, view, at + 8, bodyEnd);
    }
    return at + length;
  }

  #interface(view: DataView, at: number, end: number): void {
    if (at + 8 > end || this.#interfaces.length >= mostInterfaces)
      throw new CaptureError('an interface that cannot be read', this.#offset + at);
    const described: CaptureInterface = {
      linkType: view.getUint16(at, this.#little),
      snapLength: view.getUint32(at + 4, this.#little),
      unitsPerSecond: 1e6,
      offsetSeconds: 0,
    };
    for (let option = at + 8; option + 4 <= end;) {
      const [code, length] = [view.getUint16(option, this.#little), view.getUint16(option + 2, this.#little)];
      if (code === 0 || option + 4 + length > end) break;
      if (code === ifTsresol && length >= 1) {
        const told = view.getUint8(option + 4);
        described.unitsPerSecond = (told & 0x80 ? 2 : 10) ** (told & 0x7f);
      }
      if (code === ifTsoffset && length >= 8)
        described.offsetSeconds = Number(view.getBigInt64(option + 4, this.#little));
      option += 4 + Math.ceil(length / 4) * 4;
    }
    this.#interfaces.push(described);
  }

  #enhanced(octets: Uint8Array, view: DataView, at: number, end: number): void {
    if (at + 20 > end) throw new CaptureError('a packet that cannot be read', this.#offset + at);
    const { linkType, unitsPerSecond, offsetSeconds } = this.#known(view.getUint32(at, this.#little), at);
    const units = view.getUint32(at + 4, this.#little) * 2 ** 32 + view.getUint32(at + 8, this.#little);
    const length = view.getUint32(at + 12, this.#little);
    if (at + 20 + length > end) throw new CaptureError('a packet longer than its block', this.#offset + at);
    this.#hand(octets, at + 20, at + 20 + length, units / unitsPerSecond + offsetSeconds, linkType);
  }

  #obsolete(octets: Uint8Array, view: DataView, at: number, end: number): void {
    if (at + 20 > end) throw new CaptureError('a packet that cannot be read', this.#offset + at);
    const { linkType, unitsPerSecond, offsetSeconds } = this.#known(view.getUint16(at, this.#little), at);
    const units = view.getUint32(at + 4, this.#little) * 2 ** 32 + view.getUint32(at + 8, this.#little);
    const length = view.getUint32(at + 12, this.#little);
    if (at + 20 + length > end) throw new CaptureError('a packet longer than its block', this.#offset + at);
    this.#hand(octets, at + 20, at + 20 + length, units / unitsPerSecond + offsetSeconds, linkType);
  }

  /** It tells no time: what it shows happened at a time that nobody knows, and counts for nothing that has one. */
  #simple(octets: Uint8Array, view: DataView, at: number, end: number): void {
    if (at + 4 > end) throw new CaptureError('a packet that cannot be read', this.#offset + at);
    const { linkType, snapLength } = this.#known(0, at);
    const told = view.getUint32(at, this.#little);
    const length = Math.min(told, snapLength || told, end - at - 4);
    this.#hand(octets, at + 4, at + 4 + length, Number.NaN, linkType);
  }

  #known(number: number, at: number): CaptureInterface {
    const found = this.#interfaces[number];
    if (!found) throw new CaptureError(`a packet of interface ${number}, which nobody described`, this.#offset + at);
    return found;
  }

  #hand(octets: Uint8Array, start: number, end: number, at: number, linkType: number): void {
    const packet = this.#packet;
    packet.octets = octets;
    packet.start = start;
    packet.end = end;
    packet.at = at;
    packet.linkType = linkType;
    this.take(packet);
  }
}

function joined(before: Uint8Array, piece: Uint8Array): Uint8Array {
  const all = new Uint8Array(before.length + piece.length);
  all.set(before);
  all.set(piece, before.length);
  return all;
}

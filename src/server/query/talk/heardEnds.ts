import { Dictionary } from '../../../core/tables/dictionary';
import { protocolName } from '../../../core/flow/talk';
import { rowsInStep } from '../../../core/steps';
import { networkOf } from '../../../core/values/ipAddress';
import type { AddressOwners } from './addressOwners';
import type { Heard } from './heardTalk';

export type End = 'client' | 'server';

/** What the ends of conversations follow from, as surveys tell it. */
export interface AroundEnds {
  owners: AddressOwners;
  /** where a device stands; empty for 0 */
  siteOf: (deviceId: number) => string;
  /** at which device an address hangs that is none of a device; 0 where that is not known */
  hangsOn: (address: string) => number;
  /** which process listens on a port of a device */
  processAt: (deviceId: number, protocol: string, port: number) => string;
}

/** What follows from an end. */
export type EndFieldName = 'Name' | 'Device' | 'Site' | 'Network';

/** Networks of this length, where nobody tells a shorter or longer one. */
const hostBits = { ipv4: 24, ipv6: 64 };
const networkAt = (address: string) => networkOf(address, address.includes(':') ? hostBits.ipv6 : hostBits.ipv4);

const changing = 0xffff_ffff;

/** Works out the numbers of rows from one up to another. */
type Fill = (codes: Uint32Array, from: number, to: number) => void;

/** Numbers by row that are worked out once for each, and go on where more rows come. */
class Filled {
  #codes = new Uint32Array(1024);
  #size = 0;

  /**
   * @param again rows whose numbers may be others than they were
   */
  upTo(size: number, fill: Fill, again: Iterable<number>): Uint32Array {
    this.#reserve(size);
    for (const row of again) fill(this.#codes, row, row + 1);
    if (this.#size < size) fill(this.#codes, this.#size, size);
    this.#size = size;
    return this.#codes.subarray(0, size);
  }

  /** Some rows at a step. */
  *inSteps(size: number, fill: Fill): Generator<void> {
    if (size - this.#size > rowsInStep) this.#reserve(size);
    while (size - this.#size > rowsInStep) {
      this.upTo(this.#size + rowsInStep, fill, []);
      yield;
    }
  }

  #reserve(size: number): void {
    if (size <= this.#codes.length) return;
    const wider = new Uint32Array(Math.max(size, this.#size === 0 ? size : this.#codes.length * 2));
    wider.set(this.#codes.subarray(0, this.#size));
    this.#codes = wider;
  }
}

/** By number of an address: that of what follows from it, -1 where it was not asked for yet. */
class AddressCodes {
  codes = new Int32Array(0);
}

/** What ends are called, at any moment: to put hundreds of thousands of names in order again for each moment would take a second. */
export class EndWords {
  readonly #dictionaries = new Map<EndFieldName, Dictionary>();
  /** in which network an address is, at any moment; by the addresses that are numbered */
  readonly #networks = new WeakMap<Dictionary, AddressCodes>();

  of(field: EndFieldName): Dictionary {
    let known = this.#dictionaries.get(field);
    if (!known) this.#dictionaries.set(field, (known = new Dictionary()));
    return known;
  }

  networks(addresses: Dictionary): AddressCodes {
    let known = this.#networks.get(addresses);
    if (!known) this.#networks.set(addresses, (known = new AddressCodes()));
    return known;
  }
}

/** A field that follows from an end: of its device where that is known, else of its address. */
class EndField {
  #byDevice = new Int32Array(0);
  readonly filled = new Filled();

  constructor(
    readonly dictionary: Dictionary,
    /** null where its device does not matter */
    readonly ofDevice: ((deviceId: number) => string) | null,
    readonly ofAddress: (address: string) => string,
    readonly addresses: Dictionary,
    readonly known = new AddressCodes(),
  ) {}

  codeOf(device: number, address: number): number {
    if (device > 0 && this.ofDevice) {
      if (device >= this.#byDevice.length) this.#byDevice = widened(this.#byDevice, device + 1);
      let code = this.#byDevice[device] ?? -1;
      if (code < 0) this.#byDevice[device] = code = this.dictionary.codeOf(this.ofDevice(device));
      return code;
    }
    const { known } = this;
    if (address >= known.codes.length) known.codes = widened(known.codes, this.addresses.size);
    let code = known.codes[address] ?? -1;
    if (code < 0)
      known.codes[address] = code = this.dictionary.codeOf(this.ofAddress(String(this.addresses.values[address])));
    return code;
  }

  /** The numbers of rows from one up to another: of most ends it is known already. */
  fill(codes: Uint32Array, from: number, to: number, devices: Uint32Array, addresses: Uint32Array): void {
    let [byDevice, byAddress] = [this.#byDevice, this.known.codes];
    const isOfDevice = this.ofDevice !== null;
    for (let row = from; row < to; row++) {
      const [device, address] = [devices[row] ?? 0, addresses[row] ?? 0];
      const known = (device > 0 && isOfDevice ? byDevice[device] : byAddress[address]) ?? -1;
      if (known >= 0) codes[row] = known;
      else {
        codes[row] = this.codeOf(device, address);
        [byDevice, byAddress] = [this.#byDevice, this.known.codes];
      }
    }
  }
}

/** With room for at least so many, -1 where nothing is yet. */
function widened(codes: Int32Array, size: number): Int32Array<ArrayBuffer> {
  const wider = new Int32Array(Math.max(1024, size, codes.length * 2)).fill(-1);
  wider.set(codes);
  return wider;
}

/** Who the ends of what was heard are, kept from one moment to the next: of millions of conversations most are there already. */
export class HeardEnds {
  readonly #devices = { client: new Filled(), server: new Filled() };
  /** rows with an address that changed hands: whose it was follows from when they were heard last */
  readonly #changing = { client: [] as number[], server: [] as number[] };
  #owner = new Uint32Array(0);
  #owned = 0;
  readonly #fields = new Map<string, EndField>();
  readonly #asked = {
    port: { dictionary: new Dictionary(), filled: new Filled(), byValue: new Int32Array(65_536).fill(-1) },
    protocol: { dictionary: new Dictionary(), filled: new Filled(), byValue: new Int32Array(256).fill(-1) },
  };
  readonly #processes = new Dictionary();
  readonly #processFilled = new Filled();
  readonly #processAt = new Map<number, number>();

  constructor(
    readonly heard: Heard,
    readonly around: AroundEnds,
    readonly words: EndWords,
  ) {}

  /** By row of what was heard: which device an end was then, 0 for none that is known. */
  devices(end: End): Uint32Array {
    this.#findOwners();
    return this.#devices[end].upTo(this.heard.stock.size, this.#fillDevices(end), this.#changing[end].slice());
  }

  /** By row of what was heard. @param field what follows from the end of a conversation */
  column(end: End, field: EndFieldName): { dictionary: Dictionary; codes: Uint32Array } {
    const known = this.fieldOf(end, field);
    const devices = this.devices(end);
    const addresses = this.heard.stock.column(end);
    const codes = known.filled.upTo(
      devices.length,
      (all, from, to) => known.fill(all, from, to, devices, addresses),
      this.#changing[end],
    );
    return { dictionary: known.dictionary, codes };
  }

  /** Works out ahead what follows from an end, some rows at a step. */
  *filling(end: End, field: EndFieldName): Generator<void> {
    const known = this.fieldOf(end, field);
    const devices = this.devices(end);
    const addresses = this.heard.stock.column(end);
    yield* known.filled.inSteps(devices.length, (all, from, to) => known.fill(all, from, to, devices, addresses));
  }

  /** Works out ahead which devices ends are, some rows at a step. */
  *fillingDevices(end: End): Generator<void> {
    this.#findOwners();
    yield;
    yield* this.#devices[end].inSteps(this.heard.stock.size, this.#fillDevices(end));
  }

  fieldOf(end: End, field: EndFieldName): EndField {
    let known = this.#fields.get(`${end}${field}`);
    if (!known) {
      const { owners, siteOf, hangsOn } = this.around;
      const { addresses } = this.heard;
      const words = this.words.of(field);
      known =
        field === 'Name'
          ? new EndField(words, owners.nameOf, (address) => address, addresses)
          : field === 'Device'
            ? new EndField(words, owners.nameOf, () => '', addresses)
            : field === 'Site'
              ? new EndField(words, siteOf, (address) => siteOf(hangsOn(address)), addresses)
              : new EndField(words, null, networkAt, addresses, this.words.networks(addresses));
      this.#fields.set(`${end}${field}`, known);
    }
    return known;
  }

  /** By row of what was heard: the port that is asked, or the protocol by its name. */
  asked(field: 'port' | 'protocol'): { dictionary: Dictionary; codes: Uint32Array } {
    const known = this.#asked[field];
    const { stock } = this.heard;
    const values = stock.column(field);
    const fill = (codes: Uint32Array, from: number, to: number) => {
      for (let row = from; row < to; row++) codes[row] = this.askedCode(field, values[row] ?? 0);
    };
    const codes = known.filled.upTo(stock.size, fill, []);
    return { dictionary: known.dictionary, codes };
  }

  askedCode(field: 'port' | 'protocol', value: number): number {
    const { dictionary, byValue } = this.#asked[field];
    let code = byValue[value] ?? -1;
    if (code < 0) byValue[value] = code = dictionary.codeOf(field === 'port' ? value : protocolName(value));
    return code;
  }

  /** By row of what was heard: the process that listens there. */
  processes(): { dictionary: Dictionary; codes: Uint32Array } {
    const devices = this.devices('server');
    const { stock } = this.heard;
    const [ports, protocols] = [stock.column('port'), stock.column('protocol')];
    const nothing = this.#processes.codeOf('');
    const fill = (codes: Uint32Array, from: number, to: number) => {
      for (let row = from; row < to; row++) {
        const device = devices[row] ?? 0;
        codes[row] = device === 0 ? nothing : this.processCode(device, protocols[row] ?? 0, ports[row] ?? 0);
      }
    };
    const codes = this.#processFilled.upTo(devices.length, fill, this.#changing.server);
    return { dictionary: this.#processes, codes };
  }

  processCode(device: number, protocol: number, port: number): number {
    const key = (device * 256 + protocol) * 65_536 + port;
    let code = this.#processAt.get(key);
    if (code === undefined) {
      const process = this.around.processAt(device, protocolName(protocol), port);
      this.#processAt.set(key, (code = this.#processes.codeOf(process)));
    }
    return code;
  }

  #fillDevices(end: End): Fill {
    const { stock, addresses } = this.heard;
    const codes = stock.column(end);
    const last = stock.count('lastSeen');
    const owner = this.#owner;
    const changed = this.#changing[end];
    return (devices: Uint32Array, from: number, to: number) => {
      for (let row = from; row < to; row++) {
        const own = owner[codes[row] ?? 0] ?? 0;
        devices[row] = own;
        if (own !== changing) continue;
        // rows are found in order; those that are looked at again are known
        if (row > (changed.at(-1) ?? -1)) changed.push(row);
        devices[row] = this.around.owners.ownerAt(String(addresses.values[codes[row] ?? 0]), last[row] ?? 0);
      }
    };
  }

  #findOwners(): void {
    const { addresses } = this.heard;
    if (this.#owned === addresses.size) return;
    const owner = new Uint32Array(addresses.size);
    owner.set(this.#owner.subarray(0, this.#owned));
    for (let code = this.#owned; code < owner.length; code++)
      owner[code] = this.around.owners.onlyOwner(String(addresses.values[code])) ?? changing;
    this.#owner = owner;
    this.#owned = owner.length;
  }
}

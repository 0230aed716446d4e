import type { TraceEnd } from '../../core/trace/trace';
import { everyRow } from '../../core/tables/column';
import { shortName } from '../../core/topology/nameIndex';
import { addressOrNull } from '../../core/values/ipAddress';
import { parseMac } from '../../core/values/mac';
import { tablesOf } from '../query/tables/estateTables';
import type { ThingTable } from '../query/tables/thingTable';
import type { Store } from '../../store/base/database';

/** What an end was written as, and why it is none. */
export class EndMistake extends Error {}

const bridging = new Set(['switch', 'router', 'firewall']);
const howWords: Record<string, string> = {
  wireless: 'by radio, through the access point there',
  phone: 'behind a phone',
  virtual: 'a virtual machine on the host there',
  unmanaged: 'with others, behind something unmanaged',
};

/** The ends of a trace, as somebody wrote them: `device:12`, `endpoint:02:…`, a MAC in any notation, an address, the name of a device or a host. */
export class TraceEnds {
  readonly #devices: ThingTable;
  readonly #endpoints: ThingTable;

  constructor(
    readonly store: Store,
    readonly survey: number,
  ) {
    this.#devices = tablesOf(store).table('devices', survey, null);
    this.#endpoints = tablesOf(store).table('endpoints', survey, null);
  }

  /** @throws EndMistake */
  find(written: string): TraceEnd {
    const text = written.trim();
    if (text === '') throw new EndMistake('Say what it is: a name, an address or a MAC.');
    const device = /^device:(\d+)$/.exec(text)?.[1];
    if (device !== undefined)
      return this.#device(device) ?? this.#unknown(text, 'no device has this number at this survey');
    const mac = parseMac(text.replace(/^endpoint:/, ''));
    if (mac) return this.#endpoint(mac) ?? this.#unknown(text, 'no survey up to this one has heard of it');
    const address = addressOrNull(text);
    if (address) return this.#addressed(address);
    const found = this.#named(text);
    if (found) return found;
    return this.#unknown(text, 'no device or host is called so at this survey');
  }

  #unknown(text: string, why: string): never {
    throw new EndMistake(`“${text}”: ${why}.`);
  }

  #device(id: string, asked: string | null = null): TraceEnd | null {
    const row = this.#devices.rowOf(id);
    const [device] = row < 0 ? [] : this.#devices.rows([row]);
    if (!device) return null;
    const own = { words: String(device.name), address: asked ?? (String(device.address ?? '') || null) };
    if (bridging.has(String(device.role)))
      return { ...own, mac: null, vlan: null, attached: { deviceId: Number(id), port: null }, how: '' };
    // what passes nothing on is where one of its adapters hangs
    const places = this.#ownPlaces(Number(id));
    const place =
      places.find(({ addresses }) => own.address !== null && (addresses as string[]).includes(own.address)) ??
      places[0];
    if (!place) return { ...own, mac: null, vlan: null, attached: { deviceId: Number(id), port: null }, how: '' };
    return { ...endOf(place), ...own };
  }

  #ownPlaces(deviceId: number) {
    const owners = this.#endpoints.column('ownDeviceId');
    const code = owners.dictionary.find(deviceId);
    if (code === undefined) return [];
    return this.#endpoints
      .rows(everyRow(this.#endpoints.size).filter((row) => owners.codes[row] === code))
      .filter((row) => row.deviceId !== null);
  }

  #endpoint(mac: string, asked: string | null = null): TraceEnd | null {
    const row = this.#endpoints.rowOf(mac);
    const [endpoint] = row < 0 ? [] : this.#endpoints.rows([row]);
    if (!endpoint) return null;
    const end = endOf(endpoint);
    return asked === null ? end : { ...end, address: asked };
  }

  #addressed(address: string): TraceEnd {
    const addresses = this.#devices.column('addresses');
    for (let row = 0; row < this.#devices.size; row++) {
      if (!(addresses.dictionary.values[addresses.codes[row] ?? 0] as string[]).includes(address)) continue;
      const id = String(this.#devices.keys()[row]);
      const end = this.#device(id, address);
      if (end) return end;
    }
    for (const mac of tablesOf(this.store).macsWithAddress(this.survey, address)) {
      const end = this.#endpoint(mac, address);
      if (end) return end;
    }
    return { words: address, mac: null, address, vlan: null, attached: null, how: '' };
  }

  #named(text: string): TraceEnd | null {
    const wanted = shortName(text);
    const names = this.#devices.column('name');
    for (let row = 0; row < this.#devices.size; row++)
      if (shortName(String(names.dictionary.values[names.codes[row] ?? 0])) === wanted)
        return this.#device(String(this.#devices.keys()[row]));
    const machines = tablesOf(this.store).table('machines', this.survey, null);
    const called = machines.column('name');
    for (let row = 0; row < machines.size; row++) {
      if (shortName(String(called.dictionary.values[called.codes[row] ?? 0])) !== wanted) continue;
      const [machine] = machines.rows([row]);
      for (const mac of (machine?.macs as string[] | undefined) ?? []) {
        const end = this.#endpoint(mac);
        if (end) return { ...end, words: String(machine?.name ?? end.words) };
      }
    }
    const hosts = this.#endpoints.column('host');
    for (let row = 0; row < this.#endpoints.size; row++) {
      const host = String(hosts.dictionary.values[hosts.codes[row] ?? 0] ?? '');
      if (host !== '' && shortName(host) === wanted) return this.#endpoint(String(this.#endpoints.keys()[row]));
    }
    return null;
  }
}

function endOf(row: Record<string, unknown>): TraceEnd {
  const [mac, host, [address = null]] = [
    String(row.mac),
    String(row.host ?? ''),
    row.addresses as string[] as (string | undefined)[],
  ];
  return {
    words: host || address || mac,
    mac,
    address,
    vlan: row.vlan as number | null,
    attached:
      row.deviceId === null || row.deviceId === undefined || !row.port
        ? null
        : { deviceId: Number(row.deviceId), port: String(row.port) },
    how: howWords[String(row.via ?? '')] ?? '',
  };
}

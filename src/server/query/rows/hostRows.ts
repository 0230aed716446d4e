import { shownOfMachine } from '../../../core/estate/shownFacts';
import type { DeviceFacts, FaultFacts, MachineFacts, ServiceFacts, SoftwareFacts } from '../../../core/estate/facts';
import { duplicateAddresses } from '../../../core/switching/duplicateAddresses';
import { valueAt, type Column, type ColumnSource } from '../../../core/tables/column';
import { packageOf, type Package } from '../../../core/services/packageOf';
import { ruleBasis, ServiceRules } from '../../../core/services/serviceRule';
import { compareAddresses } from '../../../core/values/ipAddress';
import { compareNaturally } from '../../../core/values/naturalOrder';
import type { Db } from '../../../store/base/database';
import { factsAsOf } from '../../../store/base/facts';
import { readServiceRules } from '../../../store/serviceRules';
import { onlyOnes } from '../../../core/topology/deviceIndex';
import { laddersAt } from '../../map/ladders';
import { deviceNames, type Builder } from './rowBuilder';
import { Calendar } from '../calendar';

/** Who listens where, what that is by the rules that are there, and with which package it came. */
export const services: Builder = ({ db, survey, devices }) => {
  const names = deviceNames(db, survey, devices);
  const rules = new ServiceRules(readServiceRules(db));
  const packages = packagesByDevice(db, survey, devices);
  return factsAsOf<ServiceFacts>(db, 'service', survey, devices)
    .map(({ deviceId, key, content }) => {
      const own = packageOf(content.process, content.path, packages.get(deviceId) ?? new Map());
      const rule = rules.of({ ...content, package: own?.name ?? '' });
      return {
        id: `${deviceId}:${key}`,
        deviceId,
        device: names.get(deviceId) ?? '',
        ...content,
        service: rule?.name ?? '',
        kind: rule?.kind ?? '',
        publisher: rule?.publisher ?? '',
        category: rule?.category ?? '',
        package: own?.name ?? '',
        version: own?.version ?? '',
        knownBy: rule ? `${ruleBasis(rule)}: ${rule.id}` : '',
      };
    })
    .sort(
      (x, y) =>
        compareNaturally(x.device, y.device) ||
        x.port - y.port ||
        x.protocol.localeCompare(y.protocol) ||
        compareAddresses(x.address, y.address),
    );
};

/** What is installed on each device, by its name in small letters. */
function packagesByDevice(db: Db, survey: number, devices: number[] | undefined): Map<number, Map<string, Package>> {
  const found = new Map<number, Map<string, Package>>();
  for (const { deviceId, content } of factsAsOf<SoftwareFacts>(db, 'software', survey, devices)) {
    const { name, version, kind } = content;
    if (kind === 'firmware' || kind === 'operatingSystem') continue;
    const own = found.get(deviceId) ?? new Map<string, Package>();
    found.set(deviceId, own.set(name.toLowerCase(), { name, version }));
  }
  return found;
}

export const software: Builder = ({ db, survey, devices }) => {
  const names = deviceNames(db, survey, devices);
  return factsAsOf<SoftwareFacts>(db, 'software', survey, devices)
    .map(({ deviceId, key, content }) => ({
      id: `${deviceId}:${key}`,
      deviceId,
      device: names.get(deviceId) ?? '',
      ...content,
    }))
    .sort((x, y) => compareNaturally(x.device, y.device) || compareNaturally(x.name, y.name));
};

/** A machine that both its host and a manager tell of is one row: the manager's words for cluster and networks, the host as inventoried. */
export const machines: Builder = ({ db, survey }) => {
  const names = deviceNames(db, survey);
  // a name that several have means none of them
  const byName = onlyOnes(Array.from(names, ([id, name]) => [name, id]));
  const rows = new Map<string, ReturnType<typeof rowOf>>();
  const rowOf = (deviceId: number, key: string, content: MachineFacts) => ({
    id: `${deviceId}:${key}`,
    deviceId,
    ...content,
    host: content.host || (names.get(deviceId) ?? ''),
    hostId: content.host ? (byName.get(content.host) ?? null) : deviceId,
    toldBy: names.get(deviceId) ?? '',
    ...shownOfMachine(content),
  });
  for (const { deviceId, key, content } of factsAsOf<MachineFacts>(db, 'machine', survey)) {
    const row = rowOf(deviceId, key, content);
    // without a UUID it is known by its name on its host alone
    const identity = content.uuid || `${row.hostId ?? `${deviceId} ${row.host}`} ${content.name}`;
    const known = rows.get(identity);
    rows.set(identity, known && known.cluster ? { ...row, ...known } : row);
  }
  return [...rows.values()].sort((x, y) => compareNaturally(x.host, y.host) || compareNaturally(x.name, y.name));
};

export const faults: Builder = ({ db, survey, devices }, other) => {
  const asked = factsAsOf<DeviceFacts>(db, 'device', survey, devices);
  const duplicated = duplicateAddresses(placesOf(other('endpoints'), devices));
  const names = deviceNames(
    db,
    survey,
    devices && [...devices, ...duplicated.flatMap(({ holders }) => holders.flatMap(({ deviceId }) => deviceId ?? []))],
  );
  const calendar = new Calendar(db);
  const open = asked.flatMap(({ deviceId, content, fromSurvey }) =>
    (content.defaultCommunities ?? []).map((community) => ({
      id: `${deviceId}:community ${community}`,
      deviceId,
      device: content.name,
      subsystem: 'security',
      part: content.name,
      severity: 'warning' as const,
      message: `still answers to the community “${community}” it was delivered with`,
      action: 'Take the community away on the device: anybody can read it, and with a writing one change it.',
      since: null,
      firstSeen: calendar.momentOf(fromSurvey),
    })),
  );
  const told = factsAsOf<FaultFacts>(db, 'fault', survey, devices).map(({ deviceId, key, fromSurvey, content }) => ({
    id: `${deviceId}:${key}`,
    deviceId,
    device: names.get(deviceId) ?? '',
    ...content,
    firstSeen: calendar.momentOf(fromSurvey),
  }));
  const duplicates = duplicated.map(({ address, holders }) => {
    const { deviceId } = holders.find((one) => one.deviceId !== null) ?? { deviceId: null };
    const places = holders.map(
      ({ mac, deviceId: at, port }) =>
        `${mac}${at === null ? '' : ` on ${names.get(at) ?? ''} ${port ?? ''}`.trimEnd()}`,
    );
    return {
      id: `${deviceId ?? 0}:address ${address}`,
      deviceId: deviceId ?? 0,
      device: names.get(deviceId ?? 0) ?? '',
      subsystem: 'addresses',
      part: address,
      severity: 'warning' as const,
      message: `two machines have this address: ${places.join(', ')}`,
      action: 'Give one of them another address: whichever answers last gets the traffic of both.',
      since: null,
      firstSeen: null,
    };
  });
  const onTheWay = laddersAt(db, survey, () => other('endpoints'), devices).flatMap(({ host, hostId, findings }) =>
    findings.map(({ kind, part, words, remedy }) => ({
      id: `${hostId ?? 0}:teaming ${host} ${kind} ${part} ${words}`,
      deviceId: hostId ?? 0,
      device: hostId === null ? '' : host,
      subsystem: 'teaming',
      part: hostId === null ? `${host} ${part}` : part,
      severity: 'warning' as const,
      message: words,
      action: remedy,
      since: null,
      firstSeen: null,
    })),
  );
  return [...told, ...open, ...duplicates, ...onTheWay].sort(
    (x, y) =>
      x.severity.localeCompare(y.severity) || compareNaturally(x.device, y.device) || compareNaturally(x.part, y.part),
  );
};

/** Where endpoints hang and which addresses they have: all of them, or those that share an address with one on some devices. */
function* placesOf(endpoints: ColumnSource, devices: number[] | undefined) {
  const [macs, addresses, owners, ports, own] = (['mac', 'addresses', 'deviceId', 'port', 'ownDeviceId'] as const).map(
    (field) => endpoints.column(field),
  );
  if (!macs || !addresses || !owners || !ports || !own) return;
  const shared = devices ? sharing(addresses, owners, devices) : repeated(addresses);
  for (let at = 0; at < endpoints.size; at++) {
    if (!shared[addresses.codes[at] ?? 0]) continue;
    const held = valueAt(addresses, at) as string[];
    if (held.length > 0)
      yield {
        mac: String(valueAt(macs, at)),
        addresses: held,
        deviceId: (valueAt(owners, at) as number) || null,
        port: String(valueAt(ports, at)) || null,
        ownDeviceId: (valueAt(own, at) as number) || null,
      };
  }
}

/** By number of a list of addresses: whether it has one that stands in more than one row. */
function repeated({ dictionary, codes }: Column): Uint8Array {
  const rows = new Uint32Array(dictionary.values.length);
  for (const code of codes) rows[code] = (rows[code] ?? 0) + 1;
  const once = new Set<string>();
  const again = new Set<string>();
  dictionary.values.forEach((held, code) => {
    const count = rows[code] ?? 0;
    if (count > 0) for (const address of held as string[]) (count > 1 || once.has(address) ? again : once).add(address);
  });
  return dictionary.passing((held) => (held as string[]).some((address) => again.has(address)));
}

/** By number of a list of addresses: whether it has one that an endpoint on some devices has. */
function sharing(addresses: Column, owners: Column, devices: number[]): Uint8Array {
  const theirs = new Set<string>();
  const wanted = owners.dictionary.passing((owner) => devices.includes(owner as number));
  for (let at = 0; at < owners.codes.length; at++) {
    if (wanted[owners.codes[at] ?? 0]) for (const address of valueAt(addresses, at) as string[]) theirs.add(address);
  }
  const found = new Uint8Array(addresses.dictionary.size);
  if (theirs.size > 0)
    addresses.dictionary.values.forEach(
      (held, code) => (held as string[]).some((address) => theirs.has(address)) && (found[code] = 1),
    );
  return found;
}

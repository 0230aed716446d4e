import type { AddressFacts, PeerFacts, RouteFacts, VirtualRouterFacts } from '../../../core/estate/facts';
import { compareAddresses, networkOf } from '../../../core/values/ipAddress';
import { Prefixes } from '../../../core/values/prefixes';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { factsAsOf } from '../../../store/base/facts';
import { deviceNames, type Builder } from './rowBuilder';

export const routes: Builder = ({ db, survey, devices }) => {
  const names = deviceNames(db, survey, devices);
  return factsAsOf<RouteFacts>(db, 'route', survey, devices)
    .map(({ deviceId, key, content }) => ({
      id: `${deviceId}:${key}`,
      deviceId,
      device: names.get(deviceId) ?? '',
      ...content,
      nextHop: content.nextHop ?? '',
    }))
    .sort((x, y) => compareNaturally(x.device, y.device) || comparePrefixes(x.destination, y.destination));
};

export const peers: Builder = ({ db, survey, devices }) => {
  const found = factsAsOf<PeerFacts>(db, 'peer', survey, devices);
  if (found.length === 0) return [];
  const names = deviceNames(db, survey);
  const byAddress = new Map(
    factsAsOf<AddressFacts>(db, 'address', survey).map(({ deviceId, content }) => [
      content.address,
      names.get(deviceId) ?? '',
    ]),
  );
  return found
    .map(({ deviceId, key, content }) => ({
      id: `${deviceId}:${key}`,
      deviceId,
      device: names.get(deviceId) ?? '',
      ...content,
      peer: byAddress.get(content.address) ?? '',
    }))
    .sort((x, y) => compareNaturally(x.device, y.device) || compareAddresses(x.address, y.address));
};

/** With the other devices that carry the same router: of the same group, with an address in common. */
export const virtualRouters: Builder = ({ db, survey, devices }) => {
  const all = factsAsOf<VirtualRouterFacts>(db, 'virtualRouter', survey);
  if (all.length === 0) return [];
  const names = deviceNames(db, survey);
  const carriers = new Map<string, typeof all>();
  const keys = ({ group, addresses }: VirtualRouterFacts) => addresses.map((address) => `${group} ${address}`);
  for (const one of all) for (const key of keys(one.content)) carriers.set(key, [...(carriers.get(key) ?? []), one]);
  const wanted = devices && new Set(devices);
  return all
    .filter(({ deviceId }) => !wanted || wanted.has(deviceId))
    .map(({ deviceId, key, content }) => {
      const together = new Set(keys(content).flatMap((shared) => carriers.get(shared) ?? []));
      const others = [...together].filter((other) => other.deviceId !== deviceId);
      const masters = [...together].filter(({ content: { state } }) => state === 'master').length;
      return {
        id: `${deviceId}:${key}`,
        deviceId,
        device: names.get(deviceId) ?? '',
        ...content,
        mac: content.mac ?? '',
        partners: [...new Set(others.map((other) => names.get(other.deviceId) ?? ''))].sort(compareNaturally),
        standing:
          masters > 1
            ? 'several masters'
            : masters === 0 && together.size > 0
              ? 'no master known'
              : others.length === 0
                ? 'nobody known stands in'
                : 'one master',
      };
    })
    .sort((x, y) => compareNaturally(x.device, y.device) || compareNaturally(x.port, y.port) || x.group - y.group);
};

/** Every network that a device has an address in, with the devices that are in it and how many of its addresses are known. */
export const networks: Builder = ({ db, survey }, other) => {
  const names = deviceNames(db, survey);
  const found = new Map<
    string,
    { network: string; vrf: string; devices: Set<string>; ports: Set<string>; known: Set<string> }
  >();
  for (const {
    deviceId,
    content: { address, prefixLength, port, vrf = '' },
  } of factsAsOf<AddressFacts>(db, 'address', survey)) {
    if (prefixLength === null || prefixLength >= (address.includes(':') ? 127 : 31)) continue;
    const network = networkOf(address, prefixLength);
    const key = `${vrf} ${network}`;
    const row = found.get(key) ?? {
      network,
      vrf,
      devices: new Set<string>(),
      ports: new Set<string>(),
      known: new Set<string>(),
    };
    row.devices.add(names.get(deviceId) ?? '');
    row.ports.add(`${names.get(deviceId) ?? ''} ${port}`);
    row.known.add(address);
    found.set(key, row);
  }
  const holding = new Prefixes([...found.values()].flatMap(({ network, vrf }) => (vrf === '' ? [network] : [])));
  const { dictionary, codes } = other('endpoints').column('addresses');
  const there = new Uint8Array(dictionary.size);
  for (const code of codes) there[code] = 1;
  dictionary.values.forEach((addresses, code) => {
    if (!there[code]) return;
    for (const address of addresses as string[]) {
      const network = holding.longestWith(address);
      if (network) found.get(` ${network}`)?.known.add(address);
    }
  });
  return [...found.entries()]
    .map(([id, { network, vrf, devices, ports, known }]) => ({
      id: id.trim(),
      network,
      vrf,
      devices: [...devices].sort(compareNaturally),
      ports: [...ports].sort(compareNaturally),
      knownAddresses: known.size,
      family: network.includes(':') ? 'IPv6' : 'IPv4',
    }))
    .sort((x, y) => comparePrefixes(x.network, y.network));
};

function comparePrefixes(left: string, right: string): number {
  const [leftNetwork = '', leftLength] = left.split('/');
  const [rightNetwork = '', rightLength] = right.split('/');
  return compareAddresses(leftNetwork, rightNetwork) || Number(leftLength) - Number(rightLength);
}

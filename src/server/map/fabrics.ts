import type { DeviceFacts, FabricEndpointFacts, FabricFacts, ToldLinkFacts } from '../../core/estate/facts';
import {
  endpointsOf,
  fabricTree,
  placesOfSubnet,
  type EndpointsAsked,
  type FabricTree,
  type SubnetPlace,
} from '../../core/fabric/fabricTree';
import { NameIndex } from '../../core/topology/nameIndex';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { byDevice, factsAsOf } from '../../store/base/facts';

/** A fabric with the numbers of its devices, by their names. */
export interface FabricTold extends FabricTree {
  controller: { id: number; name: string };
  devices: Record<string, number>;
}

const mostEndpoints = 500;

/** Every fabric whose controller was asked. */
export function fabrics(store: Store, survey: number): FabricTold[] {
  const { db } = store;
  const parts = byDevice(factsAsOf<FabricFacts>(db, 'fabric', survey));
  if (parts.size === 0) return [];
  const [links, endpoints] = [
    byDevice(factsAsOf<ToldLinkFacts>(db, 'toldLink', survey)),
    byDevice(factsAsOf<FabricEndpointFacts>(db, 'fabricEndpoint', survey)),
  ];
  const devices = factsAsOf<DeviceFacts>(db, 'device', survey);
  const nameOf = new Map(devices.map(({ deviceId, content }) => [deviceId, content.name]));
  const idOf = new NameIndex(devices.map(({ deviceId, content }) => [content.name, deviceId]));
  return [...parts]
    .map(([id, own]) => {
      const tree = fabricTree(own, links.get(id) ?? [], endpoints.get(id) ?? []);
      return {
        controller: { id, name: nameOf.get(id) ?? '' },
        ...tree,
        devices: Object.fromEntries(
          tree.nodes.flatMap(({ node }) => {
            const found = idOf.get(node);
            return found === undefined ? [] : [[node, found]];
          }),
        ),
      };
    })
    .sort((x, y) => compareNaturally(x.controller.name, y.controller.name));
}

/** Endpoints of a fabric that fit, and where a subnet or an address belongs. */
export function fabricEndpoints(
  store: Store,
  survey: number,
  controller: number,
  asked: EndpointsAsked,
): { rows: FabricEndpointFacts[]; total: number; places: SubnetPlace[] } {
  const all = factsAsOf<FabricEndpointFacts>(store.db, 'fabricEndpoint', survey, [controller]).map(
    ({ content }) => content,
  );
  const found = endpointsOf(all, asked);
  const places = asked.text
    ? placesOfSubnet(
        fabricTree(
          factsAsOf<FabricFacts>(store.db, 'fabric', survey, [controller]).map(({ content }) => content),
          [],
          [],
        ),
        asked.text,
      )
    : [];
  return { rows: found.slice(0, mostEndpoints), total: found.length, places };
}

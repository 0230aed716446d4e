import { wayNames } from '../../core/estate/ways';
import { interpretRedfish } from '../../core/resources/redfish';
import { ResourceError, type ResourceSource } from '../https/resourceSource';
import type { OpenInterface, VendorInterface } from '../interfaces/vendorInterface';
import { readTree } from './readTree';
import { isRedfish, RedfishService } from './redfishService';

/** Redfish of a live service. */
export const redfishInterface: VendorInterface = {
  kind: 'redfish',
  credentialKind: 'redfish',
  name: wayNames.redfish,
  probe: isRedfish,
  open: async (place, options, credential) => redfishFrom(await RedfishService.open(place, options, credential)),
};

const system = /^\/redfish\/v1\/Systems\/[^/]+$/;
/** The system, and what leads to it. */
const toSystem = /^\/redfish\/v1(\/Systems(\/[^/]+)?)?$/;

/** Redfish from any source of its resources. */
export function redfishFrom(source: ResourceSource): OpenInterface {
  return {
    read: async (context) => {
      const tree = await readTree(source);
      // without its system nobody could say whose the rest would be
      const isThere = [...tree.resources.keys()].some((path) => system.test(path));
      const lost = tree.gaps.find(({ path, isPassing }) => isPassing && toSystem.test(path));
      if (lost && !isThere) throw new ResourceError('mute', `${lost.path}: ${lost.reason}`);
      return interpretRedfish(tree, context);
    },
    resource: (path) => source.get(path),
    close: () => source.close(),
  };
}

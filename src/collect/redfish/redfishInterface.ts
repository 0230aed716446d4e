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

/** Redfish from any source of its resources. */
export function redfishFrom(source: ResourceSource): OpenInterface {
  return {
    read: async (context) => {
      const tree = await readTree(source);
      // without its system nobody could say whose the rest would be
      const lost = tree.gaps.find(({ path }) => /^\/redfish\/v1(\/Systems(\/[^/]+)?)?\/?$/.test(path));
      if (lost) throw new ResourceError('mute', `${lost.path}: ${lost.reason}`);
      return interpretRedfish(tree, context);
    },
    resource: (path) => source.get(path),
    close: () => source.close(),
  };
}

import { place, type Placement } from '../switching/placement';
import type { SightedDevice } from '../switching/heardTables';
import type { Earlier } from '../switching/settled';
import { compareNaturally } from '../values/naturalOrder';
import { linksFromAttachments } from './attachedDevices';
import { DeviceIndex } from './deviceIndex';
import { linksFromNeighbours, type LinkFacts } from './links';

export interface Conclusion extends Placement {
  links: LinkFacts[];
}

/** Everything that is concluded from all devices together. Same input in any order, same output. @param earlier where a MAC was found the last time */
export function conclude(devices: SightedDevice[], earlier?: Earlier): Conclusion {
  const sorted = [...devices].sort((x, y) => x.id - y.id);
  const index = new DeviceIndex(sorted);
  const claimed = linksFromNeighbours(index);
  const placement = place(sorted, index, earlier);
  const links = [...claimed, ...linksFromAttachments(placement.attachments.ofDevices(), index, claimed)].sort(
    (x, y) => compareNaturally(x.a.device, y.a.device) || compareNaturally(x.a.port, y.a.port) || compareNaturally(x.b.device, y.b.device) || compareNaturally(x.b.port, y.b.port),
  );
  return { ...placement, links };
}

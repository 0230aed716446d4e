import { listAt, objectAt, textAt, type Json } from '../../core/resources/json';
import { plainPath, type ResourceTree } from '../../core/resources/resourceTree';
import { isPassing, ResourceError, type ResourceSource } from '../https/resourceSource';

/** Properties whose links are followed. What is not named here (tasks, events, accounts, certificates) is nobody's inventory. */
const followed = new Set([
  'Systems',
  'Chassis',
  'Managers',
  'UpdateService',
  'FirmwareInventory',
  'Processors',
  'Memory',
  'Storage',
  'Drives',
  'Controllers',
  'EthernetInterfaces',
  'NetworkAdapters',
  'NetworkPorts',
  'Ports',
  'Power',
  'Thermal',
  'PowerSubsystem',
  'PowerSupplies',
  'ThermalSubsystem',
  'Fans',
  'ThermalMetrics',
  'Sensors',
  'EnvironmentMetrics',
  'Metrics',
  'PCIeDevices',
  'Volumes',
  'PowerEquipment',
  'RackPDUs',
  'FloorPDUs',
  'LogServices',
  'Entries',
  'Bios',
  'Members',
]);
/** Of a chassis that tells its temperatures in one of these, each of its sensors alone would tell them once more, at a question each. */
const tellsSensors = ['Thermal', 'ThermalSubsystem'];
/** What a log holds (LogService.Entries). */
const entries = 'Entries';
const mostResources = 3000;
/** Pages of one log that are read: what is older has been seen before. */
const mostLogPages = 4;
const atOnce = 4;

/**
 * Reads what belongs to an inventory, following `@odata.id`, `Members` and `Members@odata.nextLink` (DSP0266), a few requests at a
 * time. A member that is gone or closed is a gap of its own; once the service stops answering, the rest is one gap.
 */
export async function readTree(source: ResourceSource): Promise<ResourceTree> {
  const tree: ResourceTree = { resources: new Map(), gaps: [] };
  const wanted: string[] = [];
  const seen = new Set<string>();
  /** by which property each was found */
  const via = new Map<string, string>();
  let stopped = '';
  const want = (link: string, property = '') => {
    const path = plainPath(link);
    if (!path.startsWith('/redfish/v1') || seen.has(path)) return;
    seen.add(path);
    via.set(path, property);
    wanted.push(path);
  };
  const read = async (path: string): Promise<void> => {
    const property = via.get(path) ?? '';
    try {
      const resource = await wholeCollection(
        source,
        await source.get(path === '/redfish/v1' ? '/redfish/v1/' : path),
        path,
        property,
        tree,
      );
      tree.resources.set(path, resource);
      for (const { link, name } of linksOf(resource, property === entries))
        want(link, name === 'Members' ? property : name);
    } catch (error) {
      if (!(error instanceof ResourceError)) throw error;
      // links to what this machine does not have are common
      if (error.fault === 'absent') return;
      if (isPassing(error.fault)) stopped ||= error.message;
      tree.gaps.push({ path, property, reason: error.message, ...(isPassing(error.fault) && { isPassing: true }) });
    }
  };
  want('/redfish/v1');
  const lanes = new Set<Promise<void>>();
  while ((wanted.length > 0 && !stopped) || lanes.size > 0) {
    while (wanted.length > 0 && lanes.size < atOnce && !stopped) {
      const path = wanted.shift() ?? '';
      if (tree.resources.size + lanes.size >= mostResources) {
        stopped = `has more than ${mostResources} resources`;
        break;
      }
      const lane: Promise<void> = read(path).finally(() => lanes.delete(lane));
      lanes.add(lane);
    }
    if (lanes.size > 0) await Promise.race(lanes);
  }
  if (stopped)
    for (const path of wanted)
      tree.gaps.push({
        path,
        property: via.get(path) ?? '',
        reason: `not asked: the service ${stopped}`,
        isPassing: true,
      });
  return tree;
}

/** A collection with the members of all its pages. */
async function wholeCollection(
  source: ResourceSource,
  first: Json,
  path: string,
  property: string,
  tree: ResourceTree,
): Promise<Json> {
  const members = listAt(first, 'Members');
  if (members.length === 0) return first;
  const all = [...members];
  const isLog = property === entries;
  const visited = new Set([path]);
  let next = textAt(first, 'Members@odata.nextLink');
  for (let page = 1; next && all.length < mostResources && (!isLog || page < mostLogPages); page++) {
    // a page that leads back would never end
    if (visited.has(next)) {
      tree.gaps.push({ path, property, reason: `its pages lead back to ${next}` });
      break;
    }
    visited.add(next);
    try {
      const more = await source.get(next);
      all.push(...listAt(more, 'Members'));
      next = textAt(more, 'Members@odata.nextLink');
    } catch (error) {
      if (!(error instanceof ResourceError)) throw error;
      tree.gaps.push({ path, property, reason: `its later pages are missing: ${error.message}` });
      break;
    }
  }
  return { ...objectAt(first), Members: all };
}

/** Where a resource leads to, and by which property. Members that stand in the collection whole need not be asked again. */
function linksOf(resource: Json, isEntries: boolean): { link: string; name: string }[] {
  const links: { link: string; name: string }[] = [];
  const own = objectAt(resource) ?? {};
  const isTold = tellsSensors.some((name) => own[name] !== undefined);
  for (const [name, value] of Object.entries(own)) {
    if (!followed.has(name) || (name === 'Sensors' && isTold)) continue;
    for (const target of Array.isArray(value) ? value : [value]) {
      const link = textAt(target, '@odata.id');
      const whole = objectAt(target);
      if (link && !(whole && Object.keys(whole).length > 1 && (link.includes('#') || isEntries)))
        links.push({ link, name });
    }
  }
  return links;
}

import { listAt, objectAt, textAt, type Json } from './json';
import { plainPath, type ResourceTree } from './resourceTree';

/** One computer system of a service, and of its tree all that is told of this one. */
export interface SystemView {
  tree: ResourceTree;
  /** its id at the service, for a name where it tells none */
  id: string;
  /** the lists of what the logs of the service hold */
  logs: ReadonlySet<string>;
}

const rootPath = '/redfish/v1';
const collections = ['Systems', 'Chassis', 'Managers'] as const;
type Collection = (typeof collections)[number];

/** The collection of a name as the service root links it; identifiers of resources are opaque (DSP0266, 8.2). */
export const collectionPath = (resources: ReadonlyMap<string, Json>, name: string): string =>
  plainPath(textAt(resources.get(rootPath), name, '@odata.id')) || `${rootPath}/${name}`;

/** The lists of what the logs hold, as their services link them. */
const logPaths = (resources: ReadonlyMap<string, Json>): Set<string> =>
  new Set([...resources.values()].map((one) => plainPath(textAt(one, 'Entries', '@odata.id'))).filter(Boolean));

const membersOf = (resources: ReadonlyMap<string, Json>, name: Collection): string[] =>
  listAt(resources.get(collectionPath(resources, name)), 'Members').map((member) =>
    plainPath(textAt(member, '@odata.id')),
  );

const linksAt = (resource: Json | undefined, name: string): string[] =>
  [...listAt(resource, 'Links', name), objectAt(resource, 'Links', name) ?? null].flatMap((one) => {
    const link = plainPath(textAt(one, '@odata.id'));
    return link ? [link] : [];
  });

/**
 * A view of the tree for each computer system behind a service (DSP0268: a ComputerSystem is a machine; several may share an enclosure and its controller). What a system links as its own,
 * and what stands below that, is told of it alone; what is shared (the enclosure, its supplies and fans, the log) is told of the first.
 */
export function viewsOfSystems({ resources, gaps }: ResourceTree): SystemView[] {
  const systems = membersOf(resources, 'Systems').filter((path) => resources.has(path));
  const logs = logPaths(resources);
  if (systems.length < 2) return [{ tree: { resources, gaps }, id: '', logs }];
  const claims = (name: 'Chassis' | 'ManagedBy') => {
    const owners = new Map<string, string[]>();
    for (const system of systems)
      for (const link of linksAt(resources.get(system), name)) owners.set(link, [...(owners.get(link) ?? []), system]);
    return owners;
  };
  const [chassis, managers] = [claims('Chassis'), claims('ManagedBy')];
  const ownerOf = new Map<string, string>();
  for (const system of systems) for (const path of below(resources, system, systems)) ownerOf.set(path, system);
  for (const owners of [chassis, managers])
    for (const [link, [only, ...others]] of owners)
      if (only !== undefined && others.length === 0)
        for (const path of below(resources, link, [...chassis.keys(), ...managers.keys(), ...systems]))
          if (!ownerOf.has(path)) ownerOf.set(path, only);
  const first = systems[0] ?? '';
  return systems.map((system) => {
    const isOwn = (path: string) => (ownerOf.get(path) ?? first) === system;
    const own = new Map([...resources].filter(([path]) => isOwn(path) || path === rootPath));
    for (const name of collections)
      own.set(collectionPath(resources, name), {
        Members: membersOf(resources, name)
          .filter((path) => (name === 'Systems' ? path === system : isOwn(path)))
          .map((path) => ({ '@odata.id': path })),
      });
    for (const [path, log] of own) if (logs.has(path)) own.set(path, entriesOf(log, isOwn, resources));
    // what the log of all tells of another one is told of that one
    if (system !== first)
      for (const [path, log] of resources)
        if (logs.has(path) && !own.has(path))
          own.set(
            path,
            entriesOf(log, (at) => ownerOf.get(at) === system, resources),
          );
    return {
      logs,
      id: textAt(resources.get(system), 'Id') || (system.split('/').at(-1) ?? ''),
      tree: { resources: own, gaps: gaps.filter(({ path }) => isOwn(ownerBelow(path, ownerOf))) },
    };
  });
}

/** A path that could not be had belongs to whom the nearest resource above it belongs. */
function ownerBelow(path: string, ownerOf: ReadonlyMap<string, string>): string {
  for (let at = plainPath(path); at.length > rootPath.length; at = at.slice(0, at.lastIndexOf('/')))
    if (ownerOf.has(at)) return at;
  return path;
}

/** Everything that a resource leads to by what it holds, itself included; other roots are not entered. */
function below(resources: ReadonlyMap<string, Json>, root: string, roots: readonly string[]): Set<string> {
  const found = new Set<string>();
  const wanted = [root];
  const others = new Set(roots.filter((path) => path !== root));
  for (let path = wanted.pop(); path !== undefined; path = wanted.pop()) {
    if (found.has(path) || others.has(path) || !resources.has(path)) continue;
    found.add(path);
    for (const [name, value] of Object.entries(objectAt(resources.get(path)) ?? {})) {
      // links to what is related, not held
      if (name === 'Links' || name.startsWith('@')) continue;
      for (const one of Array.isArray(value) ? value : [value]) {
        const link = plainPath(textAt(one, '@odata.id'));
        if (link) wanted.push(link);
      }
    }
  }
  return found;
}

/** The entries of a log whose origin is one's own, or nobody's. */
function entriesOf(log: Json, isOwn: (path: string) => boolean, resources: ReadonlyMap<string, Json>): Json {
  return {
    ...objectAt(log),
    Members: listAt(log, 'Members').filter((member) => {
      const whole =
        Object.keys(objectAt(member) ?? {}).length > 1 ? member : resources.get(plainPath(textAt(member, '@odata.id')));
      const origin = plainPath(textAt(whole ?? null, 'Links', 'OriginOfCondition', '@odata.id'));
      return isOwn(origin);
    }),
  };
}

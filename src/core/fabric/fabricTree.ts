import type { FabricEndpointFacts, FabricFacts, ToldLinkFacts } from '../estate/facts';
import { addressOrNull, networkOf, parsePrefix, prefixContains, AddressError } from '../values/ipAddress';
import { parseMac } from '../values/mac';
import { compareNaturally } from '../values/naturalOrder';

/** A group of endpoints within a bridge domain. */
export interface FabricGroup {
  group: string;
  endpoints: number;
}
/** A bridge domain with the gateways of its subnets, `10.72.40.1/24`. */
export interface FabricDomain {
  domain: string;
  subnets: string[];
  groups: FabricGroup[];
}
/** A virtual router of a tenant. */
export interface FabricContext {
  context: string;
  domains: FabricDomain[];
}
export interface FabricTenant {
  tenant: string;
  contexts: FabricContext[];
  endpoints: number;
}
export interface FabricNode {
  node: string;
  function: 'leaf' | 'spine';
  reachable: boolean;
  endpoints: number;
}

/** A fabric as its controller tells of it. */
export interface FabricTree {
  nodes: FabricNode[];
  links: { leaf: string; leafPort: string; spine: string; spinePort: string; up: boolean }[];
  tenants: FabricTenant[];
}

/** Puts together what a controller tells, each list in natural order; what refers to something that is not told stands under its name alone. */
export function fabricTree(
  parts: readonly FabricFacts[],
  links: readonly ToldLinkFacts[],
  endpoints: readonly FabricEndpointFacts[],
): FabricTree {
  const count = <Key>(keyOf: (endpoint: FabricEndpointFacts) => Key) => {
    const counts = new Map<Key, number>();
    for (const endpoint of endpoints) counts.set(keyOf(endpoint), (counts.get(keyOf(endpoint)) ?? 0) + 1);
    return counts;
  };
  const [byNode, byTenant, byGroup] = [
    count(({ node }) => node),
    count(({ tenant }) => tenant),
    count(({ tenant, group }) => `${tenant}\n${group}`),
  ];
  const nodes = parts
    .flatMap((part) =>
      part.kind === 'node'
        ? [
            {
              node: part.node,
              function: part.function,
              reachable: part.reachable,
              endpoints: byNode.get(part.node) ?? 0,
            },
          ]
        : [],
    )
    .sort((x, y) => compareNaturally(x.node, y.node));
  const isSpine = new Set(nodes.filter((node) => node.function === 'spine').map(({ node }) => node));
  const tenants = parts
    .flatMap((part) => {
      if (part.kind !== 'tenant') return [];
      const contexts = [...new Set([...part.contexts, ...part.domains.map(({ context }) => context)])].sort(
        compareNaturally,
      );
      return [
        {
          tenant: part.tenant,
          endpoints: byTenant.get(part.tenant) ?? 0,
          contexts: contexts.map((context) => ({
            context,
            domains: part.domains
              .filter((domain) => domain.context === context)
              .map(({ domain, subnets }) => ({
                domain,
                subnets: [...subnets].sort(compareNaturally),
                groups: part.groups
                  .filter((group) => group.domain === domain)
                  .map(({ group }) => ({ group, endpoints: byGroup.get(`${part.tenant}\n${group}`) ?? 0 }))
                  .sort((x, y) => compareNaturally(x.group, y.group)),
              }))
              .sort((x, y) => compareNaturally(x.domain, y.domain)),
          })),
        },
      ];
    })
    .sort((x, y) => compareNaturally(x.tenant, y.tenant));
  return {
    nodes,
    tenants,
    links: links
      .map(({ a, b, up }) =>
        isSpine.has(a.device)
          ? { leaf: b.device, leafPort: b.port, spine: a.device, spinePort: a.port, up }
          : { leaf: a.device, leafPort: a.port, spine: b.device, spinePort: b.port, up },
      )
      .sort((x, y) => compareNaturally(x.leaf, y.leaf) || compareNaturally(x.leafPort, y.leafPort)),
  };
}

/** Which endpoints are asked for: those of a tenant, a group, a leaf, or what somebody wrote. */
export interface EndpointsAsked {
  tenant?: string;
  group?: string;
  node?: string;
  text?: string;
}

/**
 * Endpoints of a fabric that fit. A text is a MAC in any notation, an address, a network that holds the address, or part of the name of a tenant, group, leaf or port.
 */
export function endpointsOf(
  endpoints: readonly FabricEndpointFacts[],
  { tenant, group, node, text = '' }: EndpointsAsked,
): FabricEndpointFacts[] {
  const fits = textTest(text.trim());
  return endpoints
    .filter(
      (endpoint) =>
        (tenant === undefined || endpoint.tenant === tenant) &&
        (group === undefined || endpoint.group === group) &&
        (node === undefined || endpoint.node === node) &&
        fits(endpoint),
    )
    .sort(
      (x, y) =>
        compareNaturally(x.tenant, y.tenant) ||
        compareNaturally(x.group, y.group) ||
        compareNaturally(x.node, y.node) ||
        compareNaturally(x.port, y.port) ||
        (x.mac < y.mac ? -1 : 1),
    );
}

function textTest(text: string): (endpoint: FabricEndpointFacts) => boolean {
  if (text === '') return () => true;
  const mac = parseMac(text);
  if (mac) return (endpoint) => endpoint.mac === mac;
  const address = addressOrNull(text);
  if (address) return ({ addresses }) => addresses.includes(address);
  const prefix = prefixOf(text);
  if (prefix) return ({ addresses }) => addresses.some((own) => prefixContains(prefix, own));
  const low = text.toLowerCase();
  return ({ mac: own, addresses, tenant, group, node, port }) =>
    [own, ...addresses, tenant, group, node, port].some((words) => words.toLowerCase().includes(low));
}

/** Where a subnet or an address belongs: the domain whose subnet holds it, the longest first, with its groups. */
export interface SubnetPlace {
  tenant: string;
  context: string;
  domain: string;
  subnet: string;
  groups: string[];
}

/** Of an address all domains that hold it (tenants may use the same addresses), of a network those that hold it or lie in it; none for any other text. */
export function placesOfSubnet({ tenants }: FabricTree, text: string): SubnetPlace[] {
  const address = addressOrNull(text.trim());
  const asked = address ? null : prefixOf(text.trim());
  if (!address && !asked) return [];
  const lengthOf = (subnet: string) => Number(subnet.split('/')[1] ?? 0);
  return tenants
    .flatMap(({ tenant, contexts }) =>
      contexts.flatMap(({ context, domains }) =>
        domains.flatMap(({ domain, subnets, groups }) =>
          subnets.flatMap((subnet): SubnetPlace[] => {
            const own = prefixOf(subnet);
            if (!own) return [];
            const [gateway = ''] = subnet.split('/');
            const holds = address
              ? prefixContains(own, address)
              : asked
                ? prefixContains(asked, gateway) || prefixContains(own, text.trim().split('/')[0] ?? '')
                : false;
            return holds ? [{ tenant, context, domain, subnet, groups: groups.map(({ group }) => group) }] : [];
          }),
        ),
      ),
    )
    .sort((x, y) => lengthOf(y.subnet) - lengthOf(x.subnet) || compareNaturally(x.tenant, y.tenant));
}

/** A network, also where somebody wrote an address within it: `10.72.40.1/24`. */
function prefixOf(text: string): ReturnType<typeof parsePrefix> | null {
  const [address = '', length] = text.split('/');
  if (
    length === undefined ||
    !/^\d{1,3}$/.test(length) ||
    !addressOrNull(address) ||
    Number(length) > (address.includes(':') ? 128 : 32)
  )
    return null;
  try {
    return parsePrefix(networkOf(addressOrNull(address) ?? '', Number(length)));
  } catch (error) {
    if (error instanceof AddressError) return null;
    throw error;
  }
}

import type { Json } from './json';

/** Resources of one service by their path, and those that should have been there but could not be had. */
export interface ResourceTree {
  resources: Map<string, Json>;
  gaps: ResourceGap[];
}

export interface ResourceGap {
  path: string;
  reason: string;
  /** the property that leads there; of a member of a collection, that of the collection */
  property?: string;
  /** the same question may well be answered the next time */
  isPassing?: boolean;
}

/** A path without its fragment and trailing slash: `/redfish/v1/Systems/1`. */
export function plainPath(path: string): string {
  const bare = path.split('#')[0] ?? '';
  return bare.length > 1 ? bare.replace(/\/+$/, '') : bare;
}

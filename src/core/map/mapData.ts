import type { Role } from '../estate/facts';
import type { Confidence, LinkKind } from '../topology/links';

/** A device on the map. */
export interface MapDevice {
  id: number;
  name: string;
  role: Role;
  site: string;
  state: string;
  model: string;
  /** endpoints that hang on it */
  endpoints: number;
  /** faults that it tells of */
  faults: number;
  /** the root of its spanning tree: it speaks for every port of its own */
  root: boolean;
  change?: string;
  /** of the VLAN that is asked for: whether it carries it */
  vlan?: boolean;
}

/** A link on the map, by the numbers of its devices. */
export interface MapLink {
  id: string;
  a: { device: number; port: string };
  b: { device: number; port: string };
  kind: LinkKind;
  confidence: Confidence;
  speedBps: number | null;
  blocked: boolean;
  /** what is wrong with it, a sentence each */
  issues: string[];
  /** how many cables, where it is an aggregate */
  members: number;
  segment: boolean;
  change?: string;
  /** which end has its root port on it: it leads up the spanning tree from there */
  up?: 'a' | 'b';
  /** of the VLAN that is asked for: which ends carry it */
  vlan?: 'both' | 'a' | 'b' | 'none';
}

/** Everything the map of a survey is drawn from. */
export interface MapData {
  survey: number;
  against: number | null;
  devices: MapDevice[];
  links: MapLink[];
  /** what was ever there up to this survey, each with the survey that found it: by it things keep their places */
  ever: { devices: { id: number; name: string; role: Role; site: string; since: number }[]; joints: { a: number; b: number; since: number }[] };
}

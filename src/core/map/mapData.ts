import type { Role } from '../estate/facts';
import type { Confidence, LinkKind } from '../topology/links';

/** What a device has to do with the network that is asked for. */
export interface NetworkPart {
  /** has an address in it and a way to other networks */
  routes: boolean;
  inside: boolean;
  /** machines of it on its ports */
  machines: number;
}

/** What hangs on it alone. */
export interface Cut {
  devices: number;
  endpoints: number;
}

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
  /** has a route over somebody else: it leads from one network to another */
  routes?: boolean;
  /** groups it is in, where it is in any */
  groups?: string[];
  /** what is planned or under way on it, in words */
  works?: string[];
  change?: string;
  /** of the VLAN that is asked for: whether it carries it */
  vlan?: boolean;
  network?: NetworkPart;
  /** what is cut off if it is lost, where that is anything */
  cuts?: Cut;
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
  /** of the VLAN that is asked for: which ends carry it; `toldOnce`: one does, the other tells of no VLANs at all */
  vlan?: 'both' | 'a' | 'b' | 'toldOnce' | 'none';
  /** what is cut off if it is lost, where that is anything */
  cuts?: Cut;
  /** with what its spare went, where it had one within the last surveys */
  spareLost?: string;
}

/** Everything the map of a survey is drawn from. */
export interface MapData {
  survey: number;
  against: number | null;
  devices: MapDevice[];
  links: MapLink[];
  /** several machines on one port, behind something that nobody asked */
  segments: { device: number; port: string; machines: number }[];
  /** what was ever there up to this survey, each with the survey that found it: by it things keep their places */
  ever: {
    devices: { id: number; name: string; role: Role; site: string; since: number }[];
    joints: { a: number; b: number; since: number }[];
  };
}

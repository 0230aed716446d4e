import { type ThingRow } from '../../../lib/api';
import { type DeviceCover } from '../../contracts/CoverSection';
import { type ReadingSeries } from '../../../components/ReadingLine';

export interface StorageArea {
  name: string;
  kind: string;
  sizeBytes: number;
  usedBytes: number | null;
}

export interface Sensor {
  name: string;
  type: string;
  unit: string;
  value: number | null;
  state: string;
}

export interface HistoryLine {
  survey: number;
  at: string;
  words: string;
  field: string;
  before: unknown;
  after: unknown;
}

/** What loses its way without the device. */
interface Lost {
  id: string;
  name: string;
  why: string;
}

export interface Dependants {
  applications: (Lost & { lost: boolean })[];
  services: { total: number; first: Lost[] };
  devices: { id: string; name: string }[];
  spared: number;
  endpoints: { total: number; where: string };
  machines: number;
  restarted: number;
}

export interface Dossier {
  /** in which it was read */
  version: number;
  device: ThingRow & { name: string };
  modules: ThingRow[];
  cover: DeviceCover;
  ports: ThingRow[];
  addresses: ThingRow[];
  links: ThingRow[];
  readiness: ThingRow[];
  storage: StorageArea[];
  sensors: Sensor[];
  readings: ReadingSeries[];
  faults: ThingRow[];
  /** a filter of what belongs to it */
  here: string;
  services: ThingRow[];
  conversations: ThingRow[];
  /** how many there are, of which the newest are told */
  talk: { asks: number; isAsked: number };
  machines: ThingRow[];
  dependants: Dependants;
  peers: ThingRow[];
  virtualRouters: ThingRow[];
  routeCounts: Record<string, number>;
  wlans: ThingRow[];
  software: ThingRow[];
  faceplate: { rows: 1 | 2; groupOf?: number } | null;
  history: HistoryLine[];
}

/** What each section of a dossier gets. */
export interface SectionProps {
  dossier: Dossier;
  /** of the device */
  id: string;
  /** on its own page: everything, not only the first */
  whole: boolean;
  /** to be printed: nothing to press, and no long lists unless it is whole */
  paper: boolean;
}

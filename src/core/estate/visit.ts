import type { Gap } from './gap';
import type { WayIn, DeviceReport, WayKind } from './facts';
import type { Reading } from '../signatures/reading';
import type { Harvest } from './harvest';

/** What came of asking one address, with what to do about it. */
export interface Outcome {
  outcome: 'answered' | 'partial' | 'silent' | 'alive' | 'refused' | 'failed';
  reason: string;
  remedy: string;
}

/** What one way in to an address told of one device. */
export interface CollectedAnswer {
  kind: WayKind;
  credential: string;
  report: DeviceReport;
  parts: Harvest['parts'];
  /** the sightings of the report, which holds none then: as another thread handed them over */
  packedSightings?: Uint8Array;
  /** of a device that the one at the address looks after */
  told?: boolean;
}

/** All that was collected at one address: plain data, the same whether it was collected here or by a collector elsewhere. */
export interface CollectedVisit {
  address: string;
  /** null where it follows from the answers */
  outcome: Outcome | null;
  credential: string;
  answers: CollectedAnswer[];
  missing: Gap[];
  /** seconds by phase and part */
  phases: Record<string, number>;
  milliseconds: number;
}

/** What is known of an address before it is asked: it saves tries with wrong credentials. */
export interface AddressHint {
  /** name of the credential that worked last time */
  credential?: string;
  interfaces?: WayIn[];
  /** values that somebody wants of it beside what its signature reads */
  readings?: Reading[];
}

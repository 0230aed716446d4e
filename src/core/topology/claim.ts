import type { EvidenceSource, LinkEnd, LinkKind } from './links';

/** That two ports are joined, as one source has it. What several say of the same two becomes one link (`mergeClaims.ts`). */
export interface Claim {
  a: LinkEnd;
  b: LinkEnd;
  source: EvidenceSource;
  /** the device that says so, one of the two ends or a controller of theirs; null where it follows from tables of several */
  by: LinkEnd['deviceId'] | null;
  /** whose word or table it is, for people */
  byName: string;
  /** the evidence in a sentence */
  detail: string;
  kind?: LinkKind;
  segment?: true;
}

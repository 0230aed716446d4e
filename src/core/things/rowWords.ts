import { rowReader } from './rowReader';
import { things, type ThingName } from './things';

/** What a row is called, in a line: `sgh-core-1 3/1`, `VLAN 30 TICKET`. */
export const rowWords = (thing: ThingName, row: Record<string, unknown>): string => things[thing].words(rowReader(row));

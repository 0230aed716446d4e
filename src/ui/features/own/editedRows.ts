import type { OwnedThing } from '@/core/own/ownField';
import type { ThingRequest } from '../../lib/api';

/** Rows of a table that are to be written at: all that it shows, those that are marked, or the selected one. */
export interface EditedRows {
  thing: OwnedThing;
  request: ThingRequest;
  total: number;
  selected: string | null;
  marked: string[];
}

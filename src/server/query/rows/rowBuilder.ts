import type { CoverIndex } from '../../../core/cover/cover';
import type { Circles } from '../../../core/dependency/circles';
import type { DeviceFacts, ModuleFacts } from '../../../core/estate/facts';
import type { ColumnSource } from '../../../core/tables/column';
import type { ThingName } from '../../../core/things/things';
import type { Db } from '../../../store/base/database';
import { factsAsOf } from '../../../store/base/facts';
import type { ConversationsTable } from '../tables/conversationsTable';
import type { PlacedComponent } from './componentLines';
import type { ThingRow } from './thingRow';

export type { ThingRow } from './thingRow';

/** Which moment a thing is asked for. */
export interface Asked {
  db: Db;
  survey: number;
  against: number | null;
  /** only what belongs to these devices; all where it is not given */
  devices?: number[] | undefined;
  /** who talks to whom at that moment */
  talk: () => ConversationsTable;
  /** who belongs together by it */
  circles: () => Circles;
  /** who covers which serial on the day of that moment */
  cover: () => CoverIndex;
  /** whatever has a release then */
  components: () => readonly PlacedComponent[];
  /** every version of a module with a serial there was up to that moment, and may be later ones, where somebody has them in memory already */
  serials?: () => Iterable<SerialVersion>;
}

/** Where a serial was from one survey to another; `untilSurvey` null while it is. */
export interface SerialVersion {
  deviceId: number;
  fromSurvey: number;
  untilSurvey: number | null;
  content: Partial<ModuleFacts>;
}

/** Rows of one thing as of a survey; `other` gives the table of another thing at the same moment. */
export type Builder = (asked: Asked, other: (name: ThingName) => ColumnSource) => ThingRow[];

export function deviceNames(db: Db, survey: number, devices?: number[]): Map<number, string> {
  return new Map(
    factsAsOf<DeviceFacts>(db, 'device', survey, devices).map(({ deviceId, content }) => [deviceId, content.name]),
  );
}

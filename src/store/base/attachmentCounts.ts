import { getTableName } from 'drizzle-orm';
import type { Db } from './database';
import { attachmentFact } from './schema';
import { statements } from './statements';

const prepared = statements(({ $client }: Db) => {
  const table = getTableName(attachmentFact);
  return {
    counts: $client.prepare<[number, number], { device: number | null; count: number }>(
      `select content ->> '$.deviceId' as device, count(*) as count from ${table} where from_survey <= ? and (until_survey is null or until_survey > ?) group by device`,
    ),
  };
});

/** How many endpoints hang on each device at a survey: counted where they lie, without reading them. */
export function endpointsByDevice(db: Db, survey: number): Map<number, number> {
  return new Map(
    prepared(db)
      .counts.all(survey, survey)
      .flatMap(({ device, count }) => (device === null ? [] : [[Number(device), count]])),
  );
}

import type { DeviceFacts } from '../../core/estate/facts';
import { FilterError } from '../../core/filter/filterNode';
import type { ReadingRule } from '../../core/signatures/reading';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { meantBy, readReadingRules } from '../../store/readingRules';
import { latestVolatile } from '../../store/base/volatileValues';

/** A reading that a person added, with how many devices it means and how many of them answered it in the newest survey. */
export interface ListedReading extends ReadingRule {
  devices: number;
  answered: number;
}

/** A rule that names what is no more means nothing. */
function meansOf(db: Store['db'], rule: ReadingRule): ReturnType<typeof meantBy> {
  try {
    return meantBy(db, rule);
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return () => false;
  }
}

export function readingList({ db }: Store): { rows: ListedReading[]; total: number } {
  const survey = latestSealed(db);
  const devices = factsAsOf<DeviceFacts>(db, 'device', survey);
  const values = latestVolatile(db, survey);
  const rows = readReadingRules(db).map((rule) => {
    const means = meansOf(db, rule);
    const meant = devices.filter(({ deviceId, content }) => means(deviceId, content));
    return {
      ...rule,
      devices: meant.length,
      answered: meant.filter(({ deviceId }) => values.get(deviceId)?.readings?.some(({ name }) => name === rule.name))
        .length,
    };
  });
  return { rows, total: rows.length };
}

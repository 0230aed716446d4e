import type { DeviceFacts } from '../../core/estate/facts';
import type { Gap } from '../../core/estate/gap';
import type { Db } from './database';
import type { FactRow } from './facts';
import { latestOutcomes, type LatestOutcome } from './latestOutcomes';
import { Ways } from './ways';

export type DeviceState = 'answering' | 'partial' | 'silent';

/** How a device fared when it was asked last, and what it did not tell then. */
export interface DeviceStanding {
  state: DeviceState;
  missing: Gap[];
  outcome: LatestOutcome | undefined;
}

/** How devices fare as of a survey: one place says what silent and partial mean. */
export function deviceStates(db: Db, survey: number): (device: FactRow<DeviceFacts>) => DeviceStanding {
  const outcomes = latestOutcomes(db, survey);
  const ways = new Ways(db, survey);
  return ({ deviceId, content }) => {
    const outcome = outcomes.get(deviceId);
    if (!outcome) return { state: 'silent', missing: [], outcome };
    const answers = outcome.outcome === 'answered' || outcome.outcome === 'partial';
    const isTold = ({ part, reason }: Gap) => outcome.missing.some((one) => one.part === part && one.reason === reason);
    // what answered at one address hides no silence at another
    const elsewhere = answers ? ways.missing(deviceId, outcome.surveyId, content.interfaces ?? []) : [];
    const missing = [...outcome.missing, ...elsewhere.filter((one) => !isTold(one))];
    const partial = missing.length > 0 || outcome.outcome === 'partial';
    return { state: !answers ? 'silent' : partial ? 'partial' : 'answering', missing, outcome };
  };
}

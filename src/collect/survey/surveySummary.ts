import { kindsOfChange } from '../../core/things/comparison';
import { eq } from 'drizzle-orm';
import { changesBetween } from '../../store/base/changes';
import { latestOutcomes } from '../../store/base/latestOutcomes';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Db } from '../../store/base/database';
import { visit } from '../../store/base/schema';

/** What came of a survey, as the contract has it. */
export interface SurveySummary {
  survey: number;
  startedAt: string;
  sealedAt: string;
  seconds: number;
  addresses: { asked: number; answered: number; silent: number };
  devices: { found: number; new: number; changed: number; replaced: number; silent: number };
  phases: { probe: number; collect: number; interpret: number; commit: number; conclude: number };
  /** machines that their switch did not list and was asked for once more, and how many of them it then told; absent where there were none */
  askedAgain?: { machines: number; heard: number };
  failures: { address: string; part: string; reason: string; remedy: string }[];
}

interface Finished extends Pick<
  SurveySummary,
  'survey' | 'startedAt' | 'sealedAt' | 'seconds' | 'phases' | 'askedAgain'
> {
  kinds: ('new' | 'known' | 'replaced')[];
  /** devices that answered */
  found: number;
  unreadable: { file: string; reason: string }[];
}

/** Counts what a finished survey found, what is different from the one before, and what failed where. */
export function summarise(
  db: Db,
  { survey, startedAt, sealedAt, seconds, phases, kinds, found, unreadable, askedAgain }: Finished,
): { summary: SurveySummary; changes: number } {
  const previous = latestSealed(db);
  const visits = db.select().from(visit).where(eq(visit.surveyId, survey)).all();
  const changes = previous > 0 ? changesBetween(db, previous, survey) : [];
  const kindsOfDevices = [...kindsOfChange(changes, 'device').values()];
  const outcomes = latestOutcomes(db, survey);
  return {
    changes: changes.length,
    summary: {
      survey,
      startedAt,
      sealedAt,
      seconds: rounded(seconds),
      addresses: {
        asked: visits.length,
        answered: visits.filter(({ outcome }) => outcome === 'answered' || outcome === 'partial').length,
        silent: visits.filter(({ outcome }) => outcome === 'silent').length,
      },
      devices: {
        found,
        new: kinds.filter((kind) => kind === 'new').length,
        changed: kindsOfDevices.filter((kind) => kind === 'changed').length,
        replaced: kinds.filter((kind) => kind === 'replaced').length,
        silent: [...outcomes.values()].filter(({ outcome, surveyId }) => outcome === 'silent' && surveyId === survey)
          .length,
      },
      phases: Object.fromEntries(
        Object.entries(phases).map(([name, value]) => [name, rounded(value)]),
      ) as SurveySummary['phases'],
      ...(askedAgain && { askedAgain }),
      failures: [
        ...unreadable.map(({ file, reason }) => ({
          address: file,
          part: 'file',
          reason,
          remedy: 'Correct the file and survey again.',
        })),
        ...visits.flatMap(({ address, outcome, reason, remedy, missing, deviceId }) => {
          if (outcome === 'partial')
            return ((missing as { part: string; reason: string }[] | null) ?? []).map((part) => ({
              address,
              part: part.part,
              reason: part.reason,
              remedy: remedy ?? '',
            }));
          if (
            outcome === 'refused' ||
            outcome === 'failed' ||
            outcome === 'alive' ||
            (outcome === 'silent' && deviceId !== null && outcomes.get(deviceId)?.outcome === 'silent')
          )
            return [{ address, part: 'probe', reason: reason ?? '', remedy: remedy ?? '' }];
          return [];
        }),
      ],
    },
  };
}

const rounded = (seconds: number) => Math.round(seconds * 1000) / 1000;

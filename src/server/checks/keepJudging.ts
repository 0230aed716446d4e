import type { Check, Judgement } from '../../core/checks/check';
import { recordJudgements } from '../../store/checks';
import type { Store } from '../../store/base/database';
import { latestSealed } from '../../store/base/sealedSurveys';
import { editVersion } from '../../store/edits/log';
import { tableAnswers } from '../query/thread/tableAnswers';
import { checksToJudge } from './judgements';

const place = globalThis as { bolideJudging?: WeakMap<Store, Promise<void>> };

/** Judges what was not judged yet, survey by survey from the newest back; whoever asks meanwhile waits for the same. */
export function judgeNow(store: Store): Promise<void> {
  place.bolideJudging ??= new WeakMap();
  const known = place.bolideJudging.get(store);
  if (known) return known;
  const judging = judgeAll(store).finally(() => place.bolideJudging?.delete(store));
  place.bolideJudging.set(store, judging);
  return judging;
}

async function judgeAll(store: Store): Promise<void> {
  for (let next = checksToJudge(store); next; next = checksToJudge(store)) await judge(store, next);
}

/** Check by check, so that other questions are answered in between; how they stand is known of all at once. */
async function judge(store: Store, { survey, checks }: { survey: number; checks: Check[] }): Promise<void> {
  const judgements: Judgement[] = [];
  for (const check of checks) judgements.push(await tableAnswers(store).ask('judgeCheck', check, survey));
  recordJudgements(store.db, judgements);
}

const judgedFor = new WeakMap<Store, string>();

/** Has the checks judged at one survey; the others follow by themselves. At the newest it is looked once for all that people wrote. */
export async function judgedAt(store: Store, survey: number): Promise<void> {
  if (survey === 0) return;
  const written = `${editVersion(store.db)} ${new Date().toISOString().slice(0, 10)}`;
  const standing = survey === latestSealed(store.db) ? `${survey} ${written}` : null;
  if (standing !== null && judgedFor.get(store) === standing) return;
  const missing = checksToJudge(store, survey);
  if (missing) await judge(store, missing);
  if (standing !== null) judgedFor.set(store, standing);
  judgeNow(store).catch((error: unknown) => console.error('judging checks:', error));
}

/** Judges the checks whenever a survey was sealed, from now on. */
export function keepJudging(store: Store): void {
  tableAnswers(store).onRead(() => {
    judgeNow(store).catch((error: unknown) => console.error('judging checks:', error));
  });
}

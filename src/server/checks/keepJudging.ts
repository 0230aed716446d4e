import { recordJudgements } from '../../store/checks';
import type { Store } from '../../store/database';
import { tableAnswers } from '../tables/thread/tableAnswers';

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
  for (;;) {
    const judgements = await tableAnswers(store).ask('missingJudgements');
    if (judgements.length === 0) return;
    recordJudgements(store.db, judgements);
  }
}

/** Has the checks judged at one survey; the others follow by themselves. */
export async function judgedAt(store: Store, survey: number): Promise<void> {
  if (survey === 0) return;
  recordJudgements(store.db, await tableAnswers(store).ask('missingJudgements', survey));
  judgeNow(store).catch((error: unknown) => console.error('judging checks:', error));
}

/** Judges the checks whenever a survey was sealed, from now on. */
export function keepJudging(store: Store): void {
  tableAnswers(store).onRead(() => {
    judgeNow(store).catch((error: unknown) => console.error('judging checks:', error));
  });
}

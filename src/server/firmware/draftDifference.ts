import { targetKey } from '../../core/firmware/target';
import { verdicts, type Verdict } from '../../core/firmware/readiness';
import type { Store } from '../../store/base/database';
import { readTargets } from '../../store/targets';
import { readinessBy } from '../query/rows/readinessRows';
import { tablesOf } from '../query/tables/estateTables';

/** One component that would have another target or another verdict. */
export interface DraftChange {
  id: string;
  deviceId: number;
  device: string;
  component: string;
  current: string;
  before: { target: string; verdict: Verdict } | null;
  after: { target: string; verdict: Verdict };
  why: string;
}

export interface DraftDifference {
  survey: number;
  draft: string;
  /** by verdict: how many components have it now, and would then */
  counts: { verdict: Verdict; before: number; after: number }[];
  /** the first of many */
  changes: DraftChange[];
  changed: number;
}

const shown = 500;

/** What would be otherwise if the targets of a draft were in force, each in place of that for the same. */
export function draftDifference(store: Store, survey: number, draft: string): DraftDifference {
  const now = readTargets(store.db);
  const own = readTargets(store.db, draft).map((one) => ({ ...one, draft: '' }));
  const places = new Set(own.map(targetKey));
  const then = [...now.filter((one) => !places.has(targetKey(one))), ...own];
  const asked = {
    db: store.db,
    survey,
    devices: undefined,
    cover: () => tablesOf(store).coverAt(survey),
    components: () => tablesOf(store).components(survey),
  };
  const before = new Map(readinessBy(asked, now).map((row) => [row.id, row]));
  const after = readinessBy(asked, then);
  const counts = verdicts.map((verdict) => ({
    verdict,
    before: [...before.values()].filter((row) => row.verdict === verdict).length,
    after: after.filter((row) => row.verdict === verdict).length,
  }));
  const changes = after.flatMap((row): DraftChange[] => {
    const was = before.get(row.id);
    if (was && was.target === row.target && was.verdict === row.verdict) return [];
    const standing = ({ target, verdict }: Record<string, unknown>) => ({
      target: String(target),
      verdict: verdict as Verdict,
    });
    return [
      {
        id: row.id,
        deviceId: Number(row.deviceId),
        device: String(row.device),
        component: String(row.component),
        current: String(row.current),
        before: was ? standing(was) : null,
        after: standing(row),
        why: String(row.why),
      },
    ];
  });
  return { survey, draft, counts, changes: changes.slice(0, shown), changed: changes.length };
}

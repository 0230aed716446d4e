import { isSameLine, mayBeTarget } from '../../core/firmware/catalogue';
import { targetFindings, verdicts, type Verdict } from '../../core/firmware/readiness';
import { targetKey, type ReleaseTarget } from '../../core/firmware/target';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { readCatalogue } from '../../store/catalogue';
import { readTargets } from '../../store/targets';
import { readinessBy } from '../query/rows/readinessRows';
import { tablesOf } from '../query/tables/estateTables';

/** A target, with how those it is for stand to it, and what is wrong with itself. */
export interface StandingTarget extends ReleaseTarget {
  key: string;
  /** by verdict: how many components have it */
  counts: { verdict: Verdict; count: number }[];
  total: number;
  findings: string[];
}

/** How the targets in force stand, or those of a draft as if they were in force. */
export function targetStanding(store: Store, survey: number, draft: string): StandingTarget[] {
  const own = readTargets(store.db, draft).map((one) => ({ ...one, draft: '' }));
  const places = new Set(own.map(targetKey));
  const inForce = draft === '' ? [] : readTargets(store.db).filter((one) => !places.has(targetKey(one)));
  const asked = {
    db: store.db,
    survey,
    devices: undefined,
    cover: () => tablesOf(store).coverAt(survey),
    components: () => tablesOf(store).components(survey),
  };
  const rows = survey === 0 ? [] : readinessBy(asked, [...inForce, ...own]);
  const catalogue = readCatalogue(store.db);
  return own
    .map((target) => {
      const key = targetKey(target);
      const hit = rows.filter((row) => row.targetKey === key);
      const entry = catalogue.find((one) => isSameLine(one, target) && one.release === target.release);
      const findings = new Set(hit.flatMap(({ targetFinding }) => targetFinding as string[]));
      if (entry && !mayBeTarget(entry)) findings.add(targetFindings.targetWithdrawn ?? '');
      return {
        ...target,
        draft,
        key,
        counts: verdicts.map((verdict) => ({ verdict, count: hit.filter((row) => row.verdict === verdict).length })),
        total: hit.length,
        findings: [...findings],
      };
    })
    .sort(
      (x, y) =>
        compareNaturally(`${x.vendor} ${x.family} ${x.component}`, `${y.vendor} ${y.family} ${y.component}`) ||
        compareNaturally(x.key, y.key),
    );
}

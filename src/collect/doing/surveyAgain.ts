import type { Store } from '../../store/base/database';
import { queueSurveyInTurn } from '../../store/jobs';
import { updateKind } from '../../store/updateKind';
import { coursesOf } from '../../store/upgrades';
import { wayIn } from '../../store/wayIn';

/** What was started anew is surveyed again, so that the estate tells what runs by now. */
export function surveyAgain(store: Store, upgradeId: number): void {
  const byScope = new Map<number, Set<string>>();
  for (const { deviceId } of coursesOf(store.db, upgradeId).filter(
    ({ course }) => course.copySent !== null || course.restartSent !== null,
  )) {
    const told = updateKind(store, deviceId);
    const way = 'kind' in told ? wayIn(store.db, deviceId, told.kind) : null;
    if (!way || 'reason' in way) continue;
    const addresses = byScope.get(way.scopeId) ?? new Set();
    byScope.set(way.scopeId, addresses);
    for (const { address } of way.device.interfaces ?? [{ address: way.address }]) addresses.add(address);
  }
  for (const [scopeId, only] of byScope) queueSurveyInTurn(store.db, { scopeId, only: [...only] });
}

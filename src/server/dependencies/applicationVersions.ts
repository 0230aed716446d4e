import type { Application } from '../../core/applications/application';
import { applicationDifference } from '../../core/applications/difference';
import type { DeviceFacts } from '../../core/estate/facts';
import type { Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { latestSealed } from '../../store/base/sealedSurveys';
import { editHistory } from '../../store/edits/log';

export interface ApplicationVersion {
  at: string;
  who: string;
  /** what is other than before, a short line each */
  lines: string[];
}

/** More versions than these nobody looks back at. */
const mostVersions = 200;

/** How an application came to be what it is, the newest version first; versions in which nothing is other are left out. */
export function applicationVersions(store: Store, id: string): ApplicationVersion[] {
  const names = new Map(
    factsAsOf<DeviceFacts>(store.db, 'device', latestSealed(store.db)).map(({ deviceId, content }) => [
      deviceId,
      content.name,
    ]),
  );
  const hostName = (deviceId: number) => names.get(deviceId) ?? `device ${deviceId}`;
  return editHistory(store.db, 'applications', id)
    .slice(0, mostVersions)
    .map(({ at, who, before, after }) => ({
      at,
      who,
      lines: applicationDifference(before as Application | null, after as Application | null, hostName),
    }))
    .filter(({ lines }) => lines.length > 0);
}

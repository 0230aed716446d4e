import { recordAct } from '../../store/audit';
import { writeIfFree } from '../../store/base/lock';
import type { Db } from '../../store/base/database';

/** One line for what somebody tries again and again. */
const quietMs = 10 * 60_000;
const most = 1000;
const told = new Map<string, number>();

/** Writes down that somebody asked for what they may not, once for each thing in ten minutes. */
export function recordRefusal(db: Db, who: string, what: string, now = Date.now()): void {
  const key = `${who} ${what}`;
  if (now - (told.get(key) ?? -Infinity) < quietMs) return;
  told.delete(key);
  told.set(key, now);
  for (const oldest of told.keys()) {
    if (told.size <= most) break;
    told.delete(oldest);
  }
  writeIfFree(db.$client, () => recordAct(db, who, 'was refused', what));
}

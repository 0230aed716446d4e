/** Slows down guessing: after so many failures within a window, a name (or everybody) has to wait. */
const windowMs = 15 * 60_000;
const perName = 8;
const overall = 200;

const failures = new Map<string, number[]>();

function recent(key: string, now: number): number[] {
  const list = (failures.get(key) ?? []).filter((moment) => now - moment < windowMs);
  if (list.length > 0) failures.set(key, list);
  else failures.delete(key);
  return list;
}

/** Seconds to wait before the next try is looked at; 0 if it may be made now. */
export function mustWaitSeconds(name: string, now: number): number {
  const own = recent(`name ${name.toLowerCase()}`, now);
  const all = recent('all', now);
  const oldest = own.length >= perName ? own[0] : all.length >= overall ? all[0] : undefined;
  return oldest === undefined ? 0 : Math.ceil((oldest + windowMs - now) / 1000);
}

export function recordFailure(name: string, now: number): void {
  for (const key of [`name ${name.toLowerCase()}`, 'all']) failures.set(key, [...recent(key, now), now]);
}

export function forgetFailures(name: string): void {
  failures.delete(`name ${name.toLowerCase()}`);
}

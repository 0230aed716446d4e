/** A time in which somebody works at devices: what goes wrong with them then is expected. */
export interface Maintenance {
  id: number;
  /** which devices, as a filter */
  where: string;
  reason: string;
  /** ISO moments; without an end it lasts until somebody ends it */
  from: string;
  until: string | null;
  by: string;
}

export type MaintenanceState = 'planned' | 'now' | 'over';

/** How a time stands to a moment: it begins with its first instant and ends before its last. */
export function maintenanceState({ from, until }: Pick<Maintenance, 'from' | 'until'>, at: string): MaintenanceState {
  const moment = Date.parse(at);
  if (moment < Date.parse(from)) return 'planned';
  return until !== null && moment >= Date.parse(until) ? 'over' : 'now';
}

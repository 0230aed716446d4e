import { shortName } from '../../core/topology/nameIndex';
import type { HostLadder } from '../../core/topology/hostLadder';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import { laddersAt } from './ladders';

/** A host in a list of hosts. */
export interface HostLine {
  /** the number of its device, or `name:` and its name */
  id: string;
  host: string;
  hostId: number | null;
  machines: number;
  running: number;
  uplinks: number;
  findings: HostLadder['findings'];
}

const ladders = (store: Store, survey: number) =>
  laddersAt(store.db, survey, () => tablesOf(store).table('endpoints', survey, null));

/** Hosts with what is on them, and what is wrong between their machines and the network. */
export function hostList(store: Store, survey: number): HostLine[] {
  if (survey === 0) return [];
  return ladders(store, survey).map(({ key, host, hostId, machines, switches, findings }) => ({
    id: key,
    host,
    hostId,
    machines: machines.length,
    running: machines.filter(({ state }) => state === 'running').length,
    uplinks: new Set(switches.flatMap(({ uplinks }) => uplinks)).size,
    findings,
  }));
}

/** The ladder of one host, by its key, or by its name where no other is called so; null where there is none. */
export function hostLadderOf(store: Store, survey: number, key: string): HostLadder | null {
  if (survey === 0) return null;
  const all = ladders(store, survey);
  const called = all.filter(({ host }) => shortName(host) === shortName(key));
  return all.find((one) => one.key === key) ?? (called.length === 1 ? (called[0] ?? null) : null);
}

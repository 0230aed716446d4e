import { shortName } from '../../core/topology/deviceIndex';
import type { HostLadder } from '../../core/topology/hostLadder';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import { laddersAt } from './ladders';

/** A host in a list of hosts. */
export interface HostLine {
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
  return ladders(store, survey).map(({ host, hostId, machines, switches, findings }) => ({
    host,
    hostId,
    machines: machines.length,
    running: machines.filter(({ state }) => state === 'running').length,
    uplinks: new Set(switches.flatMap(({ uplinks }) => uplinks)).size,
    findings,
  }));
}

/** The ladder of one host, by its name; null where there is none. */
export function hostLadderNamed(store: Store, survey: number, name: string): HostLadder | null {
  if (survey === 0) return null;
  return ladders(store, survey).find(({ host }) => host === name || shortName(host) === shortName(name)) ?? null;
}

import { everyRow } from '../../core/tables/column';
import { term } from '../../core/things/near';
import type { Store } from '../../store/base/database';
import { tablesOf } from '../query/tables/estateTables';
import { circlesTold } from './applications';
import type { MatrixGroup } from './matrixGroups';

/** A group as a filter of conversations at either end. */
export interface EndTerms {
  client: string;
  server: string;
}

/** A filter that names more hosts than these is nobody's. */
const mostHosts = 150;

const both = (of: (end: 'client' | 'server') => string): EndTerms => ({ client: of('client'), server: of('server') });

/** Hosts by their numbers, and addresses that no device has. */
function hostTerms(ids: readonly string[]): EndTerms | null {
  if (ids.length === 0 || ids.length > mostHosts) return null;
  const devices = ids.filter((id) => /^\d+$/.test(id));
  const addresses = ids.filter((id) => !/^\d+$/.test(id));
  return both((end) => {
    const terms = [
      ...(devices.length > 0 ? [`${end}.id=${devices.join(',')}`] : []),
      ...(addresses.length > 0 ? [`${end}Address=${addresses.join(',')}`] : []),
    ];
    return terms.length > 1 ? `(${terms.join(' or ')})` : (terms[0] ?? '');
  });
}

/** By name: how groups of one kind are asked for in a filter; those that cannot be are left out. */
export function groupTerms(
  store: Store,
  survey: number,
  by: MatrixGroup,
  names: readonly string[],
  nobody: string,
): Record<string, EndTerms> {
  const hostsBy = hostsByName(store, survey, by);
  return Object.fromEntries(
    names.flatMap((name): [string, EndTerms][] => {
      const terms = hostsBy ? hostTerms(hostsBy.get(name) ?? []) : termsOf(by, name, nobody);
      return terms ? [[name, terms]] : [];
    }),
  );
}

function termsOf(by: MatrixGroup, name: string, nobody: string): EndTerms | null {
  const own = name === nobody ? '' : name;
  switch (by) {
    case 'host':
      return both((end) => term(`${end}Name`, name));
    case 'site':
      return both((end) => term(`${end}Site`, own));
    case 'network':
      return both((end) => `${end}Address:${name}`);
    case 'kind':
      // an address that is no device's
      return both((end) => (name === 'endpoint' ? `-${end}.name=*` : term(`${end}.role`, own)));
    case 'group':
      return name === 'in no group' ? null : both((end) => term(`${end}.group`, name));
    default:
      return null;
  }
}

function hostsByName(store: Store, survey: number, by: MatrixGroup): Map<string, string[]> | null {
  if (by === 'circle')
    return new Map(circlesTold(store, survey).circles.map(({ name, hosts }) => [name, hosts.map(({ id }) => id)]));
  if (by !== 'application') return null;
  const table = tablesOf(store).table('applications', survey, null);
  return new Map(
    table.rows(everyRow(table.size)).map((row) => [String(row.name), (row.hostIds as number[]).map(String)]),
  );
}

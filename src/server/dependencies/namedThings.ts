import { silentToken } from '../../core/dependency/silentToken';
import { thingKinds, type ThingKind } from '../../core/dependency/graph';
import { listed } from '../../core/dependency/causeWords';
import { editDistance } from '../../core/find/editDistance';
import { parseFilter } from '../../core/filter/syntax';
import { writtenValue } from '../../core/filter/written';
import { FilterError } from '../../core/filter/filterNode';
import { valueAt } from '../../core/tables/column';
import { addressOrNull, AddressError, parsePrefix } from '../../core/values/ipAddress';
import { parseMac } from '../../core/values/mac';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { readWorks } from '../../store/works';
import { findRows } from '../query/query';
import { tablesOf } from '../query/tables/estateTables';
import type { Dependence } from './dependence';

/** What somebody named, or why it is nothing. */
export type Named = { written: string; things: number[]; cables?: number[] } | { written: string; mistake: string };

/**
 * What names mean: a device, machine, service, application or endpoint by its name, MAC or address; `device:12` and the like by number; `site:SGH`, `group:Core` and a network `10.72.4.0/22` for all devices in them.
 * `state:silent` for all that do not answer, `work:3` (of waves `wave:3` too) for what a planned work or an incident is on; `port:12:3/1`, or a device and its port by their names, for the links on it. A name that several have is told with their numbers.
 */
export function namedThings(store: Store, survey: number, dependence: Dependence, written: readonly string[]): Named[] {
  let byName: Map<string, number[]> | null = null;
  return written.map((text): Named => {
    const name = text.trim();
    const [, prefix = '', rest = ''] = /^([a-z]+):(.+)$/s.exec(name) ?? [];
    const kind = thingKinds.find((one) => one === prefix);
    if (kind) {
      const at = dependence.numberOf({ kind, id: rest });
      if (at >= 0) return { written: name, things: [at] };
    }
    if (prefix === 'site' || prefix === 'group')
      return devicesWith(store, survey, dependence, name, `${prefix}=${writtenValue(rest)}`);
    if (name === silentToken) return devicesWith(store, survey, dependence, name, 'state=silent');
    // a wave that was written down is a work
    if ((prefix === 'work' || prefix === 'wave') && /^\d+$/.test(rest))
      return thingsOfWork(store, survey, dependence, name, Number(rest));
    if (prefix === 'port') {
      const [, deviceId = '', port = ''] = /^(\d+):(.+)$/s.exec(rest) ?? [];
      return linksAt(dependence, name, Number(deviceId), port);
    }
    const network = networkIn(name);
    if (network) return devicesWith(store, survey, dependence, name, `address:${network}`);
    byName ??= namesOf(dependence);
    const found = byName.get(name) ?? byName.get(name.toLowerCase()) ?? byAddress(store, survey, dependence, name);
    if (!found || found.length === 0) {
      const onPort = portNamed(dependence, byName, name);
      if (onPort) return onPort;
      const why = kind ? `there is no ${kind} of this number` : 'nothing is called so';
      const near = kind ? [] : nearNames(dependence, name);
      const meant = near.length > 0 ? `; there is ${listed(near, 'and', near.length)}` : '';
      return { written: name, mistake: `“${name}”: ${why} at this survey${meant}` };
    }
    // a device before what is only called like it
    const { things } = dependence.prepared;
    const best = found.filter(
      (one) => rankOf(things[one]?.kind) === Math.min(...found.map((other) => rankOf(things[other]?.kind))),
    );
    if (best.length > 1) {
      const choices = best.map((one) => `${things[one]?.kind}:${things[one]?.id}`).join(', ');
      return { written: name, mistake: `“${name}” is the name of several: say which, as one of ${choices}` };
    }
    return { written: name, things: best };
  });
}

/** What a work is on, as far as it is known; works are not on each other. */
function thingsOfWork(store: Store, survey: number, dependence: Dependence, written: string, id: number): Named {
  const work = readWorks(store.db).find((one) => one.id === id);
  if (!work) return { written, mistake: `“${written}”: there is no planned work or incident of this number` };
  const own = work.things.filter((thing) => !thing.startsWith('work:'));
  const named = namedThings(store, survey, dependence, own);
  const things = named.flatMap((one) => ('things' in one ? one.things : []));
  const cables = named.flatMap((one) => ('things' in one ? (one.cables ?? []) : []));
  return things.length + cables.length > 0
    ? { written, things: [...new Set(things)], cables: [...new Set(cables)] }
    : { written, mistake: `“${written}”: nothing that it is on is known at this survey` };
}

/** The links on a port, as cables of the graph. */
function linksAt({ links, linkOf }: Dependence, written: string, deviceId: number, port: string): Named {
  const cables = linkOf.flatMap((link, cable) => {
    const own = links[link];
    return own && [own.a, own.b].some((end) => end.deviceId === deviceId && end.port === port) ? [cable] : [];
  });
  return cables.length > 0
    ? { written, things: [], cables }
    : { written, mistake: `“${written}”: no link is known on this port at this survey` };
}

/** “sgh-core-1 3/1”: the links on a port of a device that has its name alone; null where it is none. */
function portNamed(dependence: Dependence, byName: ReadonlyMap<string, number[]>, text: string): Named | null {
  const { things } = dependence.prepared;
  for (let at = text.indexOf(' '); at > 0; at = text.indexOf(' ', at + 1)) {
    const port = text.slice(at + 1).trim();
    const devices = (byName.get(text.slice(0, at)) ?? []).filter((one) => things[one]?.kind === 'device');
    const [only, another] = devices;
    if (only === undefined || another !== undefined || port === '') continue;
    const found = linksAt(dependence, text, Number(things[only]?.id), port);
    if ('things' in found) return found;
  }
  return null;
}

const order: ThingKind[] = ['device', 'application', 'machine', 'service', 'endpoint'];
const rankOf = (kind: ThingKind | undefined): number => order.indexOf(kind ?? 'endpoint');

function networkIn(text: string): string | null {
  if (!text.includes('/')) return null;
  try {
    parsePrefix(text);
    return text;
  } catch (error) {
    if (error instanceof AddressError) return null;
    throw error;
  }
}

function devicesWith(store: Store, survey: number, dependence: Dependence, written: string, where: string): Named {
  try {
    parseFilter(where);
    const { table, found } = findRows(store, 'devices', { survey, against: null, where, sort: [] });
    const things = table
      .rows(found)
      .map(({ id }) => dependence.numberOf({ kind: 'device', id }))
      .filter((at) => at >= 0);
    return things.length > 0
      ? { written, things }
      : { written, mistake: `“${written}”: no device is in it at this survey` };
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return { written, mistake: `“${written}”: ${error.message}` };
  }
}

function namesOf({ prepared }: Dependence): Map<string, number[]> {
  const names = new Map<string, number[]>();
  const put = (name: string, at: number) => {
    const known = names.get(name);
    if (!known) names.set(name, [at]);
    else if (!known.includes(at)) known.push(at);
  };
  prepared.things.forEach(({ name }, at) => {
    put(name, at);
    put(name.toLowerCase(), at);
  });
  return names;
}

const mostNear = 3;
const mostWrong = 2;

/** Names that are a letter or two from what was written, the nearest first. */
function nearNames({ prepared }: Dependence, written: string): string[] {
  const wanted = written.toLowerCase();
  const most = Math.min(mostWrong, Math.floor(wanted.length / 4));
  const found = new Map<string, number>();
  for (const { kind, name } of prepared.things) {
    if (kind === 'endpoint' || Math.abs(name.length - wanted.length) > most || found.has(name)) continue;
    const distance = editDistance(name.toLowerCase(), wanted, most);
    if (distance <= most) found.set(name, distance);
  }
  return [...found]
    .sort(([one, near], [other, far]) => near - far || compareNaturally(one, other))
    .slice(0, mostNear)
    .map(([name]) => name);
}

/** By MAC in any notation, or by address: the device that has it, else the endpoint. */
function byAddress(store: Store, survey: number, { numberOf }: Dependence, text: string): number[] {
  const mac = parseMac(text);
  if (mac) return [numberOf({ kind: 'endpoint', id: mac })].filter((at) => at >= 0);
  const address = addressOrNull(text);
  if (!address) return [];
  const devices = tablesOf(store).table('devices', survey, null);
  const found: number[] = [];
  const all = devices.column('addresses');
  const ids = devices.column('id');
  for (let row = 0; row < devices.size; row++)
    if ((valueAt(all, row) as string[]).includes(address))
      found.push(numberOf({ kind: 'device', id: String(valueAt(ids, row)) }));
  if (found.length > 0) return found;
  return tablesOf(store)
    .macsWithAddress(survey, address)
    .slice(0, 1)
    .map((one) => numberOf({ kind: 'endpoint', id: one }))
    .filter((at) => at >= 0);
}

import { linkWords } from '../../core/dependency/linkWords';
import { thingOfToken } from '../../core/dependency/saidNeed';
import type { Assembled } from '../../core/applications/assemble';
import { CauseWords } from '../../core/dependency/causeWords';
import {
  estateGraph,
  type EstateFacts,
  type EstateGraph,
  type StatedApplication,
  type StatedNeed,
  type StatedPart,
  type Talks,
} from '../../core/dependency/estateGraph';
import { prepareGraph, type PreparedGraph } from '../../core/dependency/graph';
import { Providers } from '../../core/dependency/providers';
import { Rehearsals, type Outcome } from '../../core/dependency/rehearse';
import type { AddressFacts, DeviceFacts, PortFacts, RouteFacts, VirtualRouterFacts } from '../../core/estate/facts';
import type { ServiceKind } from '../../core/services/serviceRule';
import { everyRow, valueAt } from '../../core/tables/column';
import type { LinkFacts } from '../../core/topology/links';
import { isLoopback } from '../../core/values/ipAddress';
import type { Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { readApplications } from '../../store/applications';
import { readSaidNeeds } from '../../store/saidNeeds';
import { editStamp } from '../../store/edits/log';
import { Calendar } from '../query/calendar';
import type { ThingRow } from '../query/rows/rowBuilder';
import { tablesOf } from '../query/tables/estateTables';
import { slowTalkStamp } from '../query/talk/slowStamp';
import { assembledFrom } from './serving';
import { servingNow } from './servingNow';
import { askedAddresses, proofOf, talkOfDevices } from './talkOfDevices';

/** Who rests on whom as of a survey, ready to be asked. */
export interface Dependence extends EstateGraph {
  prepared: PreparedGraph;
  rehearsals: Rehearsals;
  providers: Providers;
  links: readonly LinkFacts[];
  words: (outcome: Outcome) => CauseWords;
}

/** Talk that was heard within so many days is a need; what is older is only remembered. */
const rememberedDays = 40;
const dayMs = 86_400_000;

/** Made once for a survey, and again when captures or what people wrote say otherwise. */
export function dependenceAt(store: Store, survey: number): Dependence {
  const stamp = `${slowTalkStamp(store.db)} ${editStamp(store.db, 'serviceRules', 'applications', 'saidNeeds')}`;
  return tablesOf(store).told('dependence', survey, () => make(store, survey), stamp);
}

function make(store: Store, survey: number): Dependence {
  const links = factsAsOf<LinkFacts>(store.db, 'link', survey).map(({ content }) => content);
  const estate = estateGraph(factsOf(store, survey, links));
  const prepared = prepareGraph(estate.graph);
  return {
    ...estate,
    prepared,
    links,
    rehearsals: new Rehearsals(prepared),
    providers: new Providers(prepared),
    words: (outcome) =>
      new CauseWords(prepared, outcome, (cable) => {
        const link = links[estate.linkOf[cable] ?? -1];
        return link ? `the link ${linkWords(link)}` : '';
      }),
  };
}

function factsOf(store: Store, survey: number, links: readonly LinkFacts[]): EstateFacts {
  const { db } = store;
  const devices = factsAsOf<DeviceFacts>(db, 'device', survey);
  const routing = new Set([
    ...factsAsOf<RouteFacts>(db, 'route', survey).map(({ deviceId }) => deviceId),
    ...factsAsOf<RouteFacts>(db, 'learnedRoute', survey).map(({ deviceId }) => deviceId),
  ]);
  const atEnds = new Map<number, Set<string>>();
  for (const { a, b } of links)
    for (const { deviceId, port } of [a, b]) atEnds.set(deviceId, (atEnds.get(deviceId) ?? new Set()).add(port));
  const ports = new Map<string, PortFacts>();
  const macs = new Map<string, number>();
  for (const { deviceId, content } of factsAsOf<PortFacts>(db, 'port', survey)) {
    if (atEnds.get(deviceId)?.has(content.name)) ports.set(`${deviceId} ${content.name}`, content);
    if (content.mac) macs.set(content.mac, deviceId);
  }
  const uuids = new Map(
    devices.flatMap(({ deviceId, content }) => (content.uuid ? [[content.uuid, deviceId] as const] : [])),
  );
  return {
    devices: devices
      .map(({ deviceId, content }) => ({
        deviceId,
        name: content.name,
        role: content.role,
        memoryBytes: content.memoryBytes,
        routes: routing.has(deviceId),
      }))
      .sort((x, y) => x.deviceId - y.deviceId),
    links,
    portOf: (deviceId, port) => ports.get(`${deviceId} ${port}`),
    endpoints: endpointsOf(store, survey),
    addresses: factsAsOf<AddressFacts>(db, 'address', survey).map(({ deviceId, content }) => ({
      ...content,
      deviceId,
    })),
    virtualRouters: factsAsOf<VirtualRouterFacts>(db, 'virtualRouter', survey).map(({ deviceId, content }) => ({
      addresses: content.addresses,
      deviceId,
    })),
    machines: rowsOf(store, 'machines', survey).map((row) => {
      const inside = [
        uuids.get(String(row.uuid ?? '').toLowerCase()),
        ...((row.macs as string[] | undefined) ?? []).map((mac) => macs.get(mac)),
      ].find((one) => one !== undefined);
      const hostId = Number(row.hostId ?? 0) || null;
      return {
        id: row.id,
        name: String(row.name),
        hostId,
        cluster: String(row.cluster ?? ''),
        memoryBytes: (row.memoryBytes as number | null | undefined) ?? null,
        isRunning: row.state === 'running',
        insideId: inside === undefined || inside === hostId ? null : inside,
      };
    }),
    listeners: rowsOf(store, 'services', survey).map((row) => ({
      deviceId: Number(row.deviceId),
      process: String(row.process),
      protocol: String(row.protocol),
      port: Number(row.port),
      kind: row.kind as ServiceKind | '',
      isForAll: !isLoopback(String(row.address)),
    })),
    talks: talksOf(store, survey),
    applications: applicationsOf(store, survey),
    stated: statedIn(store),
  };
}

/** What people say, as far as things are named by their numbers. */
const statedIn = (store: Store): StatedNeed[] =>
  readSaidNeeds(store.db).flatMap(({ of, from, atLeast, kind, note, by }) => {
    const thing = thingOfToken(of);
    const things = from.flatMap((token) => thingOfToken(token) ?? []);
    return thing && things.length > 0 ? [{ of: thing, from: things, atLeast, kind, proof: `${by} says: ${note}` }] : [];
  });

/** So much talk with other parts is told of one. */
const mostTold = 2;

/** By what each part of an application is known to be one: its talk with the others, else that people named it. */
function partProofs({ parts, talks }: Assembled): string[][] {
  const told = parts.map((): string[] => []);
  const tell = (at: number, words: string) => {
    const own = told[at];
    if (own && own.length < mostTold && !own.includes(words)) own.push(words);
  };
  const nameOf = (at: number) => [parts[at]?.service, parts[at]?.device].filter(Boolean).join(' on ');
  for (const { client, server, proof } of talks) {
    tell(server, `${nameOf(client)} asks it: ${proof}`);
    tell(client, `it asks ${nameOf(server)}: ${proof}`);
  }
  return told.map((words) => (words.length > 0 ? words : ['people named it']));
}

/** Services of one process stand in for each other, unless somebody said that more of them must go on. */
function applicationsOf(store: Store, survey: number): StatedApplication[] {
  const all = readApplications(store.db);
  if (all.length === 0) return [];
  const serving = servingNow(store, survey);
  return all.map((application) => {
    const groups = new Map<string, StatedPart[]>();
    const assembled = assembledFrom(application, serving);
    const proofs = partProofs(assembled);
    assembled.parts.forEach(({ deviceId, address, service, device }, at) => {
      const called = service || device;
      const part = { deviceId, address, service, proof: proofs[at] ?? [] };
      const own = groups.get(called);
      if (own) own.push(part);
      else groups.set(called, [part]);
    });
    return {
      id: String(application.id),
      name: application.name,
      groups: [...groups].map(([called, parts]) => ({
        called,
        parts,
        atLeast: application.needed.find(({ service }) => service === called)?.atLeast ?? 1,
      })),
    };
  });
}

const rowsOf = (store: Store, thing: 'machines' | 'services', survey: number): ThingRow[] => {
  const table = tablesOf(store).table(thing, survey, null);
  return table.rows(everyRow(table.size));
};

function* endpointsOf(store: Store, survey: number): EstateFacts['endpoints'] {
  const table = tablesOf(store).table('endpoints', survey, null);
  const columns = (['mac', 'host', 'deviceId', 'port', 'via', 'vlan', 'addresses', 'ownDeviceId'] as const).map(
    (field) => table.column(field),
  );
  for (let row = 0; row < table.size; row++) {
    const [mac, host, deviceId, port, via, vlan, addresses, own] = columns.map((column) => valueAt(column, row));
    yield {
      mac: String(mac),
      name: String(host ?? ''),
      deviceId: Number(deviceId) || null,
      port: String(port ?? ''),
      via: String(via ?? ''),
      vlan: typeof vlan === 'number' ? vlan : null,
      addresses: addresses as string[],
      ownDeviceId: Number(own) || null,
    };
  }
}

/** Who asked whom lately: known devices among each other, and addresses that are none. */
function talksOf(store: Store, survey: number): Talks[] {
  const now = Date.parse(new Calendar(store.db).momentOf(survey));
  const since = (now - rememberedDays * dayMs) / 1000;
  const table = tablesOf(store).talk(survey);
  const talks = Array.from(talkOfDevices(table, since), (talk): Talks => ({
    ...talk,
    server: { ...talk.server, address: '' },
    proof: proofOf(talk),
  }));
  for (const talk of askedAddresses(table, since))
    talks.push({
      ...talk,
      server: { deviceId: 0, address: talk.server.address, process: '' },
      proof: proofOf(talk),
    });
  return talks;
}

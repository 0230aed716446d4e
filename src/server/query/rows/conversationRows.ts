import type { AddressFacts, ConversationFacts, DeviceFacts, ServiceFacts } from '../../../core/estate/facts';
import { conversationId } from '../../../core/estate/factKinds';
import { seenOnce, type CountedAt } from '../../../core/flow/seenOnce';
import { protocolName, type ServerBasis } from '../../../core/flow/talk';
import { valueAt, type ColumnSource } from '../../../core/tables/column';
import { compareAddresses } from '../../../core/values/ipAddress';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { lastAnswers } from '../../../store/base/latestOutcomes';
import type { Db } from '../../../store/base/database';
import { factHistory, factsAsOf } from '../../../store/base/facts';
import { latestSealed } from '../../../store/base/sealedSurveys';
import { talksUntil, type StoredTalk } from '../../../store/talk';
import { Calendar } from '../calendar';
import type { Builder, ThingRow } from './rowBuilder';

/** One end: its address, and the device that has it where that is known without doubt. */
interface End {
  address: string;
  deviceId: number | null;
  device: string;
  site: string;
}

interface Conversation {
  id: string;
  client: End & { process: string };
  server: End & { process: string; port: number };
  protocol: string;
  serves: string;
  /** devices that tell of it, by number */
  tellers: number[];
  /** what captures counted of it, by where they were taken */
  counted: CountedTalk[];
}

interface CountedTalk extends CountedAt {
  firstSeen: number;
  lastSeen: number;
}

/** Who talks to whom: what both ends tell of one conversation is one row. */
export const conversations: Builder = ({ db, survey }, other) => {
  const endOf = endsAt(db, survey, other('endpoints'));
  const processAt = listenersAt(db, survey);
  const found = new Map<string, Conversation>();
  for (const { deviceId, content } of factsAsOf<ConversationFacts>(db, 'conversation', survey)) {
    const id = conversationId(content);
    const known = found.get(id) ?? begun(id, content, endOf);
    found.set(id, known);
    known.tellers.push(deviceId);
    const own = content.role === 'client' ? known.client : known.server;
    // whoever tells of it is that end, even where another device has the address too
    Object.assign(own, endOf(content.address, deviceId));
    own.process ||= content.process;
    if (content.basis === 'listener') known.serves = 'its listener';
  }
  const calendar = new Calendar(db);
  const { momentOf } = calendar;
  for (const row of talksUntil(db, untilOf(calendar, db, survey))) countTalk(found, row, endOf);
  const surveys = samplesOf(db, survey, calendar.between(0, survey));
  const answered = lastAnswers(db, survey);
  const named = endOf.nameOf;
  return [...found.values()]
    .map(({ tellers, serves, counted, ...conversation }): ThingRow => {
      const total = seenOnce(counted);
      const seen = surveys.get(conversation.id);
      const moments = [
        ...(seen ? [momentOf(seen.first)] : []),
        ...(tellers.length > 0 ? [momentOf(Math.max(...tellers.map((teller) => answered.get(teller) ?? 0)))] : []),
        ...counted.flatMap(({ firstSeen, lastSeen }) =>
          [firstSeen, lastSeen].map((seconds) => new Date(seconds * 1000).toISOString()),
        ),
      ].sort();
      const { client, server } = conversation;
      server.process ||= server.deviceId === null ? '' : processAt(server.deviceId, conversation.protocol, server.port);
      return {
        ...conversation,
        clientName: client.device || client.address,
        clientDevice: client.device,
        clientProcess: client.process,
        clientAddress: client.address,
        clientSite: client.site,
        serverName: server.device || server.address,
        serverDevice: server.device,
        serverProcess: server.process,
        serverAddress: server.address,
        serverSite: server.site,
        port: server.port,
        serves,
        sources: [...tellers.map(named), ...counted.map(({ point }) => point)],
        samples: seen?.count ?? 0,
        events: counted.length > 0 ? total.events : null,
        packets: counted.length > 0 ? total.packets : null,
        bytes: counted.length > 0 ? total.octets : null,
        activeHours: total.hours.length,
        firstSeen: moments[0] ?? momentOf(survey),
        lastSeen: moments.at(-1) ?? momentOf(survey),
      };
    })
    .sort(
      (x, y) =>
        compareNaturally(String(x.clientName), String(y.clientName)) ||
        compareNaturally(String(x.serverName), String(y.serverName)) ||
        Number(x.port) - Number(y.port) ||
        compareAddresses(String(x.clientAddress), String(y.clientAddress)),
    );
};

function begun(id: string, told: ConversationFacts, endOf: EndOf): Conversation {
  const { role, address, peer, port, protocol } = told;
  const [client, server] = role === 'client' ? [address, peer] : [peer, address];
  return {
    id,
    client: { ...endOf(client), process: '' },
    server: { ...endOf(server), process: '', port },
    protocol,
    serves: 'the numbers of the ports',
    tellers: [],
    counted: [],
  };
}

const basisWords: Record<ServerBasis, string> = {
  listener: 'its listener',
  opening: 'who opened it',
  port: 'the numbers of the ports',
};

/** What a capture counted is of the conversation that devices tell of, where they do. */
function countTalk(found: Map<string, Conversation>, row: StoredTalk, endOf: EndOf): void {
  const protocol = protocolName(row.protocol);
  const id = `${protocol} ${row.client} ${row.server} ${row.port}`;
  const known = found.get(id) ?? {
    id,
    client: { ...endOf(row.client), process: '' },
    server: { ...endOf(row.server), process: '', port: row.port },
    protocol,
    serves: basisWords[row.basis],
    tellers: [],
    counted: [],
  };
  found.set(id, known);
  const packets = row.packetsToServer + row.packetsToClient;
  const octets = row.octetsToServer + row.octetsToClient;
  const hours = JSON.parse(row.hours) as number[];
  const here = known.counted.find(({ point }) => point === row.point);
  if (!here)
    known.counted.push({
      point: row.point,
      events: row.events,
      packets,
      octets,
      hours,
      firstSeen: row.firstSeen,
      lastSeen: row.lastSeen,
    });
  else
    Object.assign(here, {
      // files of one place follow each other
      events: here.events + row.events,
      packets: here.packets + packets,
      octets: here.octets + octets,
      hours: [...new Set([...here.hours, ...hours])].sort((x, y) => x - y),
      firstSeen: Math.min(here.firstSeen, row.firstSeen),
      lastSeen: Math.max(here.lastSeen, row.lastSeen),
    });
}

/** Until when talk counts as of a survey: at the newest all there is. */
const untilOf = (calendar: Calendar, db: Db, survey: number): number =>
  survey >= latestSealed(db) ? Number.MAX_SAFE_INTEGER : Date.parse(calendar.momentOf(survey)) / 1000;

interface EndOf {
  /** @param deviceId whose address it is, where that is known */
  (address: string, deviceId?: number): End;
  nameOf: (deviceId: number) => string;
}

/** Whose an address is, by number: one that several devices have is nobody's. */
function endsAt(db: Db, survey: number, endpoints: ColumnSource): EndOf {
  const devices = new Map<number, DeviceFacts>();
  const owners = new Map<string, Set<number>>();
  const own = (address: string, deviceId: number) =>
    owners.set(address, (owners.get(address) ?? new Set()).add(deviceId));
  for (const { deviceId, content } of factsAsOf<DeviceFacts>(db, 'device', survey)) {
    devices.set(deviceId, content);
    for (const address of [content.address, ...content.addresses]) own(address, deviceId);
  }
  for (const { deviceId, content } of factsAsOf<AddressFacts>(db, 'address', survey)) {
    // addresses of another virtual router may be anybody's
    if (!content.vrf) own(content.address, deviceId);
  }
  const hangsOn = placesOf(endpoints);
  const ownerOf = (address: string) => {
    const [one, another] = owners.get(address) ?? [];
    return another === undefined ? one : undefined;
  };
  const endOf = (address: string, deviceId = ownerOf(address)): End => {
    const device = deviceId === undefined ? undefined : devices.get(deviceId);
    return {
      address,
      deviceId: device ? (deviceId ?? null) : null,
      device: device?.name ?? '',
      site: device?.site ?? devices.get(hangsOn.get(address) ?? 0)?.site ?? '',
    };
  };
  return Object.assign(endOf, { nameOf: (deviceId: number) => devices.get(deviceId)?.name ?? '' });
}

/** At which device endpoints hang, by their addresses; what hangs at several is nowhere. */
function placesOf(endpoints: ColumnSource): Map<string, number> {
  const found = new Map<string, number>();
  if (endpoints.size === 0) return found;
  const [addresses, devices] = [endpoints.column('addresses'), endpoints.column('deviceId')];
  for (let row = 0; row < endpoints.size; row++) {
    const device = Number(valueAt(devices, row)) || 0;
    for (const address of valueAt(addresses, row) as string[])
      found.set(address, found.has(address) && found.get(address) !== device ? 0 : device);
  }
  return found;
}

/** Which process listens on a port of a device. */
function listenersAt(db: Db, survey: number): (deviceId: number, protocol: string, port: number) => string {
  const processes = new Map(
    factsAsOf<ServiceFacts>(db, 'service', survey).map(({ deviceId, content }) => [
      `${deviceId} ${content.protocol} ${content.port}`,
      content.process,
    ]),
  );
  return (deviceId, protocol, port) => processes.get(`${deviceId} ${protocol} ${port}`) ?? '';
}

/** In which survey each conversation was first seen by whichever end, and in how many. */
function samplesOf(db: Db, survey: number, between: readonly number[]): Map<string, { first: number; count: number }> {
  const seenIn = new Map<string, Set<number>>();
  for (const { fromSurvey, untilSurvey, content } of factHistory<ConversationFacts>(db, 'conversation')) {
    if (fromSurvey > survey) continue;
    const id = conversationId(content);
    const surveys = seenIn.get(id) ?? new Set([fromSurvey]);
    for (const one of between)
      if (one >= fromSurvey && one <= survey && (untilSurvey === null || one < untilSurvey)) surveys.add(one);
    seenIn.set(id, surveys);
  }
  return new Map([...seenIn].map(([id, surveys]) => [id, { first: Math.min(...surveys), count: surveys.size }]));
}

import type { AddressFacts, ConversationFacts, DeviceFacts, ServiceFacts } from '../../../core/estate/facts';
import { conversationId } from '../../../core/estate/factKinds';
import { compareAddresses } from '../../../core/values/ipAddress';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { lastAnswers } from '../../../store/base/latestOutcomes';
import type { Db } from '../../../store/base/database';
import { factHistory, factsAsOf } from '../../../store/base/facts';
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
}

/** Who talks to whom: what both ends tell of one conversation is one row. */
export const conversations: Builder = ({ db, survey }) => {
  const endOf = endsAt(db, survey);
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
  const firstSurveys = beginnings(db, survey);
  const answered = lastAnswers(db, survey);
  const { momentOf } = new Calendar(db);
  const named = endOf.nameOf;
  return [...found.values()]
    .map(({ tellers, serves, ...conversation }): ThingRow => {
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
        sources: tellers.map(named),
        firstSeen: momentOf(firstSurveys.get(conversation.id) ?? survey),
        lastSeen: momentOf(Math.max(...tellers.map((teller) => answered.get(teller) ?? 0))),
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
  };
}

interface EndOf {
  /** @param deviceId whose address it is, where that is known */
  (address: string, deviceId?: number): End;
  nameOf: (deviceId: number) => string;
}

/** Whose an address is, by number: one that several devices have is nobody's. */
function endsAt(db: Db, survey: number): EndOf {
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
      site: device?.site ?? '',
    };
  };
  return Object.assign(endOf, { nameOf: (deviceId: number) => devices.get(deviceId)?.name ?? '' });
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

/** In which survey each conversation was first seen, by whichever end. */
function beginnings(db: Db, survey: number): Map<string, number> {
  const first = new Map<string, number>();
  for (const { fromSurvey, content } of factHistory<ConversationFacts>(db, 'conversation')) {
    if (fromSurvey > survey) continue;
    const id = conversationId(content);
    first.set(id, Math.min(first.get(id) ?? fromSurvey, fromSurvey));
  }
  return first;
}

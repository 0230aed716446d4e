import type { ConversationFacts } from '../../../core/estate/facts';
import { conversationId } from '../../../core/estate/factKinds';
import type { Db } from '../../../store/base/database';
import { factHistory, factsAsOf } from '../../../store/base/facts';

/** What devices tell of a conversation in their tables of connections. */
export interface ToldTalk {
  id: string;
  client: string;
  server: string;
  port: number;
  protocol: string;
  /** whoever tells of it is that end, even where another device has the address too; 0 where neither does */
  clientDevice: number;
  serverDevice: number;
  clientProcess: string;
  serverProcess: string;
  /** by a listener it is known who serves */
  isListener: boolean;
  tellers: number[];
  /** in which survey it was seen first, and in how many */
  firstSurvey: number;
  samples: number;
}

/** What both ends tell of one conversation, up to a survey, once. @param between the sealed surveys up to it */
export function toldTalk(db: Db, survey: number, between: readonly number[]): Map<string, ToldTalk> {
  const found = new Map<string, ToldTalk>();
  for (const { deviceId, content } of factsAsOf<ConversationFacts>(db, 'conversation', survey)) {
    const id = conversationId(content);
    const { role, address, peer, port, protocol, process, basis } = content;
    const isClient = role === 'client';
    const known: ToldTalk = found.get(id) ?? {
      id,
      client: isClient ? address : peer,
      server: isClient ? peer : address,
      port,
      protocol,
      clientDevice: 0,
      serverDevice: 0,
      clientProcess: '',
      serverProcess: '',
      isListener: false,
      tellers: [],
      firstSurvey: survey,
      samples: 0,
    };
    found.set(id, known);
    known.tellers.push(deviceId);
    if (isClient) {
      known.clientDevice = deviceId;
      known.clientProcess ||= process;
    } else {
      known.serverDevice = deviceId;
      known.serverProcess ||= process;
    }
    known.isListener ||= basis === 'listener';
  }
  for (const [id, { first, count }] of samplesOf(db, survey, between)) {
    const known = found.get(id);
    if (known) Object.assign(known, { firstSurvey: first, samples: count });
  }
  return found;
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

import type { ServerBasis } from '../../core/flow/talk';
import type { Db } from '../base/database';
import { statements } from '../base/statements';
import { conversationNumber } from './conversations';

/** What one capture heard of a conversation, as it lies in the file. */
export type Hearing = [
  conversation: number,
  client: number,
  server: number,
  port: number,
  protocol: number,
  basis: ServerBasis,
  capture: number,
  events: number,
  packets: number,
  octetsToServer: number,
  octetsToClient: number,
  firstSeen: number,
  lastSeen: number,
  hours: number[],
];

// as one text: to hand over each value of each row by itself would take half as long again
const hearing = `select json_group_array(json_array(conversation_id, client, server, port, protocol, basis, capture_id, events, packets_to_server + packets_to_client, octets_to_server, octets_to_client, heard.first_seen, heard.last_seen, json(hours)))
  from conversation join heard on conversation_id = conversation.id`;

const of = statements(({ $client }) => ({
  addresses: $client
    .prepare<[number], [number, string]>('select id, address from talk_address where id > ? order by id')
    .raw(),
  some: $client
    .prepare<[number, number], string>(`${hearing} where conversation.id > ? and conversation.id <= ?`)
    .pluck(),
  these: $client
    .prepare<[string], string>(`${hearing} where conversation.id in (select value from json_each(?))`)
    .pluck(),
  last: $client.prepare<[], { last: number | null }>('select max(id) as last from conversation'),
  changed: $client.prepare<[number], number>('select id from conversation where changed > ?').pluck(),
  ofCapture: $client
    .prepare<[number], number>('select conversation_id from heard where capture_id = ? order by conversation_id')
    .pluck(),
  whole: $client.prepare<[], { id: number; point: string }>('select id, point from capture where is_whole order by id'),
  hoursOf: $client.prepare<[number], { hours: string }>(
    'select hours from heard join capture on capture.id = capture_id where is_whole and conversation_id = ?',
  ),
}));

/** Addresses that talk with their numbers, those behind a number. */
export const talkAddressesBehind = (db: Db, behind: number): IterableIterator<[number, string]> =>
  of(db).addresses.iterate(behind);

/** Captures that count, with where they were taken. */
export const wholeCaptures = (db: Db): { id: number; point: string }[] => of(db).whole.all();

/** What was heard of the conversations behind a number and up to another, conversation by conversation. */
export const hearingsBetween = (db: Db, behind: number, upTo: number): Hearing[] =>
  hearingsIn(of(db).some.get(behind, upTo));

const hearingsIn = (text: string | undefined): Hearing[] => JSON.parse(text ?? '[]') as Hearing[];

/** What was heard of some conversations, conversation by conversation. */
export const hearingsOf = (db: Db, conversations: readonly number[]): Hearing[] =>
  hearingsIn(of(db).these.get(JSON.stringify(conversations)));

export const lastConversation = (db: Db): number => of(db).last.get()?.last ?? 0;

/** Conversations of which more was heard since a write. */
export const changedSince = (db: Db, write: number): number[] => of(db).changed.all(write);

/** Conversations of which a capture heard. */
export const conversationsHeardIn = (db: Db, capture: number): number[] => of(db).ofCapture.all(capture);

/** Hours since the epoch (UTC) in which anything of a conversation was heard, by whatever capture, in order. */
export function talkHours(db: Db, client: string, server: string, port: number, protocol: number): number[] {
  const id = conversationNumber(db, { client, server, port, protocol });
  if (id === null) return [];
  const all = of(db)
    .hoursOf.all(id)
    .flatMap(({ hours }) => JSON.parse(hours) as number[]);
  return [...new Set(all)].sort((x, y) => x - y);
}

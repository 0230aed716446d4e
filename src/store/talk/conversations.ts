import type { Talk } from '../../core/flow/talk';
import type { Db } from '../base/database';
import { statements } from '../base/statements';

const of = statements(({ $client }) => ({
  address: $client.prepare<[string], { id: number }>('select id from talk_address where address = ?'),
  keepAddress: $client.prepare<[string]>('insert into talk_address (address) values (?)'),
  known: $client.prepare<[number, number, number, number], { id: number }>(
    'select id from conversation where client = ? and server = ? and port = ? and protocol = ?',
  ),
  keep: $client.prepare<[number, number, number, number, string, number]>(
    'insert into conversation (client, server, port, protocol, basis, changed) values (?, ?, ?, ?, ?, ?)',
  ),
  change: $client.prepare<[string, number, number]>('update conversation set basis = ?, changed = ? where id = ?'),
  lastWrite: $client.prepare<[], { last: number | null }>('select max(changed) as last from conversation'),
  hear: $client.prepare<[number, number, ...number[], string]>(
    `insert into heard (conversation_id, capture_id, events, packets_to_server, packets_to_client, octets_to_server, octets_to_client, first_seen, last_seen, hours)
     values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
  ),
  heardBefore: $client.prepare<[number, number], { hours: string }>(
    'select hours from heard where conversation_id = ? and capture_id = ?',
  ),
  hearMore: $client.prepare<[...number[], string, number, number]>(
    `update heard set events = events + ?, packets_to_server = packets_to_server + ?, packets_to_client = packets_to_client + ?,
       octets_to_server = octets_to_server + ?, octets_to_client = octets_to_client + ?, first_seen = min(first_seen, ?), last_seen = max(last_seen, ?), hours = ?
     where conversation_id = ? and capture_id = ?`,
  ),
}));

/** The number of the last write in which more was heard of a conversation. */
export const lastHearing = (db: Db): number => of(db).lastWrite.get()?.last ?? 0;

/** The number of a conversation by its ends; null where none was heard between them. */
export function conversationNumber(
  db: Db,
  { client, server, port, protocol }: Pick<Talk, 'client' | 'server' | 'port' | 'protocol'>,
): number | null {
  const { address, known } = of(db);
  const [one, other] = [address.get(client), address.get(server)];
  return one && other ? (known.get(one.id, other.id, port, protocol)?.id ?? null) : null;
}

/** Writes what captures heard; one for each lot of talk: it remembers addresses. */
export class HearingWriter {
  readonly #addresses = new Map<string, number>();
  readonly #write: number;

  constructor(readonly db: Db) {
    this.#write = lastHearing(db) + 1;
  }

  /** What a capture heard that was not heard in it before. */
  hear(captureId: number, talk: Talk): void {
    of(this.db).hear.run(this.#numberOf(talk), captureId, ...countsOf(talk), JSON.stringify(talk.hours));
  }

  /** What a capture heard, added to what it heard before. */
  hearMore(captureId: number, talk: Talk): void {
    const { heardBefore, hear, hearMore } = of(this.db);
    const id = this.#numberOf(talk);
    const before = heardBefore.get(id, captureId);
    if (!before) return void hear.run(id, captureId, ...countsOf(talk), JSON.stringify(talk.hours));
    const hours = [...new Set([...(JSON.parse(before.hours) as number[]), ...talk.hours])].sort((x, y) => x - y);
    hearMore.run(...countsOf(talk), JSON.stringify(hours), id, captureId);
  }

  #numberOf({ client, server, port, protocol, basis }: Talk): number {
    const { known, keep, change } = of(this.db);
    const ends = [this.#addressOf(client), this.#addressOf(server), port, protocol] as const;
    const id = known.get(...ends)?.id;
    if (id === undefined) return Number(keep.run(...ends, basis, this.#write).lastInsertRowid);
    change.run(basis, this.#write, id);
    return id;
  }

  #addressOf(address: string): number {
    let id = this.#addresses.get(address);
    if (id === undefined) {
      const { address: known, keepAddress } = of(this.db);
      id = known.get(address)?.id ?? Number(keepAddress.run(address).lastInsertRowid);
      this.#addresses.set(address, id);
    }
    return id;
  }
}

const countsOf = ({ events, packets, octets, firstSeen, lastSeen }: Talk): number[] => [
  Math.round(events),
  Math.round(packets.toServer),
  Math.round(packets.toClient),
  Math.round(octets.toServer),
  Math.round(octets.toClient),
  firstSeen,
  lastSeen,
];

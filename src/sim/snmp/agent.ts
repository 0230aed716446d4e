import { createSocket, type Socket } from 'node:dgram';
import * as ber from './ber';
import { setError, type ObjectTree } from './objects';
import { UserKeys, type AgentUser } from './usm';

/** How one agent is reached and what it lets in. */
export interface AgentSetup {
  address: string;
  port: number;
  engineId: Buffer;
  communities: string[];
  users: AgentUser[];
  /** stop answering after so many requests, as a device that dies half-way */
  silentAfter?: number;
}

const datagram = 1400;
const usmStats = [1, 3, 6, 1, 6, 3, 15, 1, 1];
const unknownContexts = [1, 3, 6, 1, 6, 3, 12, 1, 5, 0];

/** A simulated SNMP agent: a real UDP socket that answers GET, GETNEXT, GETBULK and, to users who may write, SET in v1, v2c and v3. */
export class Agent {
  #started = Date.now();
  #boots = 1;
  readonly #keys: Map<string, UserKeys>;
  #socket: Socket | null = null;
  #requests = 0;

  constructor(
    readonly setup: AgentSetup,
    public objects: ObjectTree,
    readonly contexts: ReadonlyMap<string, ObjectTree> = new Map(),
  ) {
    this.#keys = new Map(setup.users.map((user) => [user.name, new UserKeys(user, setup.engineId)]));
  }

  listen(): Promise<void> {
    return new Promise((resolve, reject) => {
      const socket = createSocket('udp4');
      this.#socket = socket;
      socket.once('error', reject);
      socket.on('message', (message, { address, port }) => {
        const answer = this.answer(message);
        if (answer) socket.send(answer, port, address);
      });
      socket.bind(this.setup.port, this.setup.address, () => {
        socket.off('error', reject);
        socket.on('error', () => undefined);
        resolve();
      });
    });
  }

  /** Starts again: engine boots go up, engine time and its clock begin anew (RFC 3414 section 2.2). */
  reboot(): void {
    this.#boots++;
    this.#started = Date.now();
  }

  close(): void {
    this.#socket?.close();
    this.#socket = null;
  }

  /** The answer to one datagram, or null where an agent keeps still: bytes that are no message, wrong community. */
  answer(message: Buffer): Buffer | null {
    try {
      const { silentAfter } = this.setup;
      if (silentAfter !== undefined && this.#requests++ >= silentAfter) return null;
      const parts = ber.elements(ber.element(message).body);
      const version = ber.readInteger(parts[0]?.body ?? Buffer.alloc(0));
      if (version === 0 || version === 1) return this.#community(version, parts);
      if (version === 3) return this.#version3(message, parts);
      return null;
    } catch (error) {
      if (error instanceof ber.BerError || error instanceof RangeError) return null;
      throw error;
    }
  }

  #community(version: 0 | 1, [, community, pdu]: ber.Element[]): Buffer | null {
    const [name = '', context] = community?.body.toString('utf8').split('@') ?? [];
    const objects = this.#objectsIn(context ?? '');
    if (!community || !pdu || !objects || !this.setup.communities.includes(name)) return null;
    if (version === 0 && pdu.tag === ber.tag.getBulk) return null;
    const response = version === 0 ? this.#performOld(pdu, objects) : this.#perform(pdu, objects);
    return response && ber.wrap(ber.tag.sequence, ber.integer(version), ber.octets(community.body), response);
  }

  #version3(message: Buffer, [, header, security, data]: ber.Element[]): Buffer | null {
    if (!header || !security || !data) return null;
    const [id, , flagsElement] = ber.elements(header.body);
    const flags = flagsElement?.body[0] ?? 0;
    const messageId = ber.readInteger(id?.body ?? Buffer.alloc(0));
    const usm = ber.elements(ber.element(security.body).body);
    const [engineId, bootsElement, timeElement, userName, macElement, salt] = usm;
    if (!engineId || !bootsElement || !timeElement || !userName || !macElement || !salt) return null;
    const report = (counter: number, keys?: UserKeys) => this.#report(messageId, counter, keys);
    if (!engineId.body.equals(this.setup.engineId)) return report(4);
    const keys = this.#keys.get(userName.body.toString('utf8'));
    if (!keys) return report(3);
    if (!(flags & 1) || !(flags & 2)) return report(1);
    const macAt = indexOfBody(message, macElement.body);
    const zeroed = Buffer.from(message);
    zeroed.fill(0, macAt, macAt + macElement.body.length);
    if (!keys.mac(zeroed).equals(macElement.body)) return report(5);
    const boots = ber.readInteger(bootsElement.body);
    const time = ber.readInteger(timeElement.body);
    if (boots !== this.#boots || Math.abs(time - this.#time()) > 150) return report(2, keys);
    let scoped: ber.Element[];
    try {
      const plain = ber.element(keys.decrypt(data.body, boots, time, salt.body));
      scoped = plain.tag === ber.tag.sequence ? ber.elements(plain.body) : [];
    } catch {
      return report(6);
    }
    // what another key opens is noise, which may look like an element by chance
    if (scoped.length !== 3 || scoped[0]?.tag !== ber.tag.octets || scoped[1]?.tag !== ber.tag.octets) return report(6);
    const [, context, pdu] = scoped;
    const objects = this.#objectsIn(context?.body.toString('utf8') ?? '');
    // a context that is not there is told by a report of snmpUnknownContexts (RFC 3413 section 3.2)
    if (!objects) return this.#report(messageId, 0, keys);
    const response = pdu && this.#perform(pdu, objects, keys.user.writes);
    return response ? this.#compose(messageId, 3, keys, context?.body ?? Buffer.alloc(0), response) : null;
  }

  #objectsIn(context: string): ObjectTree | null {
    return context === '' ? this.objects : (this.contexts.get(context) ?? null);
  }

  #time(): number {
    return Math.floor((Date.now() - this.#started) / 1000);
  }

  #report(messageId: number, counter: number, keys?: UserKeys): Buffer {
    const varbind = ber.wrap(
      ber.tag.sequence,
      ber.oid(counter === 0 ? unknownContexts : [...usmStats, counter, 0]),
      ber.integer(1, ber.tag.counter32),
    );
    const pdu = ber.wrap(
      ber.tag.report,
      ber.integer(0),
      ber.integer(0),
      ber.integer(0),
      ber.wrap(ber.tag.sequence, varbind),
    );
    return this.#compose(messageId, keys ? 1 : 0, keys, Buffer.alloc(0), pdu);
  }

  #compose(messageId: number, flags: number, keys: UserKeys | undefined, context: Buffer, pdu: Buffer): Buffer {
    const time = this.#time();
    const scoped = ber.wrap(ber.tag.sequence, ber.octets(this.setup.engineId), ber.octets(context), pdu);
    const { cipher, salt } =
      flags & 2 && keys ? keys.encrypt(scoped, this.#boots, time) : { cipher: null, salt: Buffer.alloc(0) };
    const build = (mac: Buffer) =>
      ber.wrap(
        ber.tag.sequence,
        ber.integer(3),
        ber.wrap(
          ber.tag.sequence,
          ber.integer(messageId),
          ber.integer(65_507),
          ber.octets(Buffer.from([flags])),
          ber.integer(3),
        ),
        ber.octets(
          ber.wrap(
            ber.tag.sequence,
            ber.octets(this.setup.engineId),
            ber.integer(this.#boots),
            ber.integer(time),
            ber.octets(flags & 1 && keys ? keys.user.name : ''),
            ber.octets(mac),
            ber.octets(salt),
          ),
        ),
        cipher ? ber.octets(cipher) : scoped,
      );
    if (!(flags & 1) || !keys) return build(Buffer.alloc(0));
    return build(keys.mac(build(Buffer.alloc(keys.macLength))));
  }

  /** Version 1 knows no exceptions: the first variable that is not there refuses the whole question (RFC 1157 section 4.1.2). */
  #performOld(pdu: ber.Element, objects: ObjectTree): Buffer | null {
    const response = this.#perform(pdu, objects);
    const [id, , , list] = response ? ber.elements(ber.element(response).body) : [];
    const [, , , asked] = ber.elements(pdu.body);
    if (!response || !id || !list || !asked) return null;
    // nobody writes by this version: to it the object is not there (RFC 3584 section 4.3)
    const missing =
      pdu.tag === ber.tag.set
        ? 0
        : ber.elements(list.body).findIndex((varbind) => (ber.elements(varbind.body)[1]?.tag ?? 0) >= 0x80);
    if (missing < 0) return response;
    return ber.wrap(
      ber.tag.response,
      ber.wrap(id.tag, id.body),
      ber.integer(2),
      ber.integer(missing + 1),
      ber.wrap(asked.tag, asked.body),
    );
  }

  /** All or nothing: every variable is looked at before the first one is set (RFC 3416 section 4.2.5). Who has no view to write in is told so (RFC 3413 section 3.2). */
  #set(list: ber.Element, objects: ObjectTree, mayWrite: boolean): { status: number; index: number } {
    if (!mayWrite) return { status: setError.authorizationError, index: 0 };
    const commits: (() => void)[] = [];
    for (const [at, varbind] of ber.elements(list.body).entries()) {
      const [name, value] = ber.elements(varbind.body);
      const writing = name && value ? objects.writing(ber.readOid(name.body), value) : setError.genErr;
      if (typeof writing === 'number') return { status: writing, index: at + 1 };
      commits.push(writing);
    }
    for (const commit of commits) commit();
    return { status: 0, index: 0 };
  }

  #perform(pdu: ber.Element, objects: ObjectTree, mayWrite = false): Buffer | null {
    const [id, second, third, list] = ber.elements(pdu.body);
    if (!id || !second || !third || !list) return null;
    if (pdu.tag === ber.tag.set) {
      const { status, index } = this.#set(list, objects, mayWrite);
      return ber.wrap(
        ber.tag.response,
        ber.wrap(id.tag, id.body),
        ber.integer(status),
        ber.integer(index),
        ber.wrap(list.tag, list.body),
      );
    }
    const asked = ber.elements(list.body).map((varbind) => ber.readOid(ber.element(varbind.body).body));
    const varbinds: Buffer[] = [];
    const varbind = (oid: number[], value: Buffer) => ber.wrap(ber.tag.sequence, ber.oid(oid), value);
    const end = ber.wrap(ber.tag.endOfMibView);
    switch (pdu.tag) {
      case ber.tag.get:
        for (const oid of asked) varbinds.push(varbind(oid, objects.exact(oid) ?? ber.wrap(ber.tag.noSuchInstance)));
        break;
      case ber.tag.getNext:
        for (const oid of asked) {
          const next = objects.next(oid);
          varbinds.push(next ? (next.varbind ?? varbind(next.oid, next.value)) : varbind(oid, end));
        }
        break;
      case ber.tag.getBulk: {
        const repetitions = Math.min(200, ber.readInteger(third.body));
        const cursors: { oid: number[]; index?: number | undefined }[] = asked.map((oid) => ({ oid }));
        let size = 0;
        fill: for (let round = 0; round < repetitions; round++) {
          for (const cursor of cursors) {
            const next = objects.next(cursor.oid, cursor.index);
            const answer = next ? (next.varbind ?? varbind(next.oid, next.value)) : varbind(cursor.oid, end);
            if (size + answer.length > datagram && varbinds.length > 0) break fill;
            size += answer.length;
            varbinds.push(answer);
            cursor.oid = next?.oid ?? cursor.oid;
            cursor.index = next?.index === undefined ? undefined : next.index + 1;
          }
        }
        break;
      }
      default:
        return null;
    }
    return ber.wrap(
      ber.tag.response,
      ber.wrap(id.tag, id.body),
      ber.integer(0),
      ber.integer(0),
      ber.wrap(ber.tag.sequence, ...varbinds),
    );
  }
}

/** Where a subarray of the message begins in it: both share one memory. */
function indexOfBody(message: Buffer, body: Buffer): number {
  const offset = body.byteOffset - message.byteOffset;
  if (offset < 0 || offset > message.length) throw new ber.BerError('bad message');
  return offset;
}

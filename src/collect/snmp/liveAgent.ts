import snmp, { type RawVarbind, type Session } from 'net-snmp';
import type { CommunityCredential, UserCredential } from '../../core/estate/credential';
import type { SnmpValue, Varbind } from '../../core/mib/varbind';
import { compareOids, isBelow } from '../../core/values/oid';
import { SourceError, type VarbindSource } from '../source';

export interface AgentOptions {
  address: string;
  port: number;
  timeoutMs: number;
  retries: number;
}

const noSuchObject = 128;
const noSuchInstance = 129;
const endOfMibView = 130;
/** A table longer than this is taken for one that never ends. */
const rowLimit = 2_000_000;
/** What a GETBULK should bring at most: about this many varbinds fit a datagram of 1,472 octets. */
const varbindsPerDatagram = 48;

/** A live SNMP agent behind one UDP socket. */
export class LiveAgent implements VarbindSource {
  readonly #session: Session;
  readonly #version1: boolean;

  constructor(credential: CommunityCredential | UserCredential, options: AgentOptions) {
    const { address, port, timeoutMs, retries } = options;
    const common = { port, timeout: timeoutMs, retries, backoff: 1.5, backwardsGetNexts: true };
    this.#version1 = credential.kind === 'snmp1';
    this.#session =
      credential.kind === 'snmp3'
        ? snmp.createV3Session(address, userOf(credential), { ...common, version: snmp.Version3, context: credential.context ?? '' })
        : snmp.createSession(address, credential.community, { ...common, version: this.#version1 ? snmp.Version1 : snmp.Version2c });
    // octets that are no SNMP message: the request they might have answered runs into its time limit
    this.#session.on('error', () => undefined);
  }

  get(oids: string[]): Promise<Varbind[]> {
    return new Promise((resolve, reject) => {
      this.#session.get(oids, (error, varbinds) => {
        if (error) reject(faultOf(error));
        else resolve(varbinds.flatMap(convert));
      });
    });
  }

  async columns(entry: string, columns: readonly number[]): Promise<Varbind[]> {
    const found: Varbind[] = [];
    let cursors = columns.map((column) => ({ root: `${entry}.${column}`, oid: `${entry}.${column}` }));
    let repetitions = Math.max(4, Math.floor(varbindsPerDatagram / columns.length));
    while (cursors.length > 0) {
      let answer: RawVarbind[][];
      try {
        answer = await this.#next(cursors.map(({ oid }) => oid), repetitions);
      } catch (error) {
        const fault = error instanceof SourceError ? error : new SourceError('failed', String(error));
        if (fault.message === 'tooBig' && repetitions > 1) {
          repetitions = Math.floor(repetitions / 2);
          continue;
        }
        throw new SourceError(fault.fault, fault.message, found);
      }
      const going: typeof cursors = [];
      let progress = false;
      cursors.forEach((cursor, at) => {
        let last = cursor.oid;
        let ended = false;
        for (const raw of answer[at] ?? []) {
          if (raw.type === endOfMibView || !isBelow(cursor.root, raw.oid)) {
            ended = true;
            break;
          }
          if (compareOids(raw.oid, last) <= 0) {
            throw new SourceError('misbehaving', `after ${last} the agent went back to ${raw.oid}: the table would never end`, found);
          }
          last = raw.oid;
          progress = true;
          found.push(...convert(raw));
        }
        if (ended) progress = true;
        else going.push({ root: cursor.root, oid: last });
      });
      if (!progress) throw new SourceError('misbehaving', `the agent answered nothing behind ${cursors[0]?.oid ?? entry}`, found);
      if (found.length > rowLimit) throw new SourceError('misbehaving', `the table ${entry} has more than ${rowLimit} values: it seems never to end`, found);
      cursors = going;
    }
    return found;
  }

  close(): void {
    this.#session.close();
  }

  #next(oids: string[], repetitions: number): Promise<RawVarbind[][]> {
    return new Promise((resolve, reject) => {
      if (this.#version1) {
        this.#session.getNext(oids, (error, varbinds) => {
          // version 1 says noSuchName at the end of what it has
          if (error?.status === snmp.ErrorStatus.NoSuchName) resolve(oids.map((oid) => [{ oid, type: endOfMibView, value: null }]));
          else if (error) reject(faultOf(error));
          else resolve(varbinds.map((varbind) => [varbind]));
        });
        return;
      }
      this.#session.getBulk(oids, 0, repetitions, (error, varbinds) => {
        if (error) reject(faultOf(error));
        else resolve(varbinds);
      });
    });
  }
}

function userOf(credential: UserCredential) {
  const { user: name, auth, priv } = credential;
  const authNames = { 'SHA-1': 'sha', 'SHA-224': 'sha224', 'SHA-256': 'sha256', 'SHA-384': 'sha384', 'SHA-512': 'sha512' } as const;
  const privNames = { 'AES-128': 'aes', 'AES-256': 'aes256b' } as const;
  const level = !auth ? snmp.SecurityLevel.noAuthNoPriv : !priv ? snmp.SecurityLevel.authNoPriv : snmp.SecurityLevel.authPriv;
  return {
    name,
    level,
    ...(auth && { authProtocol: snmp.AuthProtocols[authNames[auth.protocol]], authKey: auth.password }),
    ...(auth && priv && { privProtocol: snmp.PrivProtocols[privNames[priv.protocol]], privKey: priv.password }),
  };
}

function faultOf(error: Error & { code?: number; status?: number }): SourceError {
  const text = error.message;
  if (error.name === 'RequestTimedOutError') return new SourceError('no answer', 'no answer within the time limit');
  if (/Unknown User Name/i.test(text)) return new SourceError('unknown user', 'the agent does not know this user');
  if (/Wrong Digest|authentication|Digest/i.test(text)) return new SourceError('wrong digest', 'the agent rejects the authentication password');
  if (/Time Window/i.test(text)) return new SourceError('not in time window', 'the agent says the message is outside its time window');
  if (/Decrypt/i.test(text)) return new SourceError('cannot decrypt', 'the agent cannot decrypt: the privacy password or protocol is wrong');
  if (/Unsupported Security Level/i.test(text)) return new SourceError('wrong credential', 'the agent does not accept this security level for the user');
  if (error.name === 'RequestFailedError') return new SourceError('failed', error.status === snmp.ErrorStatus.TooBig ? 'tooBig' : `the agent answered with an error: ${text}`);
  if (/EHOSTUNREACH|ENETUNREACH|EACCES|EINVAL|EPERM/.test(text)) return new SourceError('unreachable', 'this machine has no way to the address');
  if (error.name === 'ResponseInvalidError') return new SourceError('misbehaving', text);
  return new SourceError('failed', text);
}

function convert({ oid, type, value }: RawVarbind): Varbind[] {
  const converted = valueOf(type, value);
  return converted ? [{ oid, value: converted }] : [];
}

function valueOf(type: number, value: unknown): SnmpValue | null {
  if (type === noSuchObject || type === noSuchInstance || type === endOfMibView) return null;
  if (Buffer.isBuffer(value)) {
    if (type === 70) return { type: 'counter64', value: value.reduce((sum, octet) => (sum << 8n) | BigInt(octet), 0n) };
    return { type: type === 68 ? 'opaque' : 'octets', value: new Uint8Array(value) };
  }
  if (typeof value === 'string') return { type: type === 64 ? 'ipAddress' : 'oid', value };
  if (typeof value === 'number') {
    if (type === 65) return { type: 'counter32', value };
    if (type === 66) return { type: 'gauge32', value };
    if (type === 67) return { type: 'timeticks', value };
    return { type: 'integer', value };
  }
  return null;
}

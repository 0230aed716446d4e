import { parseRange } from '../values/addressRange';
import { AddressError, ipv4FromNumber, ipv4Number, prefixContains, type Prefix } from '../values/ipAddress';
import { parseTranslation } from '../values/translation';
import { isLogin } from './credentialKind';
import type { ScopeText } from './scope';
import type { Outcome } from './visit';

/** Where the secret of a credential may be sent: addresses as packets carry them, behind every translation, and ports. */
export interface Approval {
  /** addresses, ranges and prefixes, written as in a scope */
  prefixes: string[];
  ports: number[];
}

export const nowhere: Approval = { prefixes: [], ports: [] };

/** Something that may be sent to some places alone; to any where nothing is said, as of a file that somebody reads in at the machine itself. */
export interface Guarded {
  name: string;
  approved?: Approval;
}
interface Place {
  address: string;
  port: number;
}

/** Whether a secret may be sent to a place. */
export function approves({ approved }: Guarded, { address, port }: Place): boolean {
  if (approved === undefined) return true;
  if (!approved.ports.includes(port) || address.includes(':')) return false;
  const asked = ipv4Number(address);
  return approved.prefixes.some((text) => {
    const whole = wholeRange(text);
    return whole !== null && whole.first <= asked && asked <= whole.last;
  });
}

/** As a scope reads it, but with the first and the last address of a prefix. */
function wholeRange(text: string): { first: number; last: number } | null {
  try {
    const { first, last } = parseRange(text);
    return isShortPrefix(text) ? { first: first - 1, last: last + 1 } : { first, last };
  } catch (error) {
    if (!(error instanceof AddressError)) throw error;
    return null;
  }
}
const isShortPrefix = (text: string): boolean => Number(/\/(\d+)$/.exec(text.trim())?.[1] ?? 32) < 31;

/** What is wrong with a line of an approval; null where nothing is. */
export function approvalMistake(text: string): string | null {
  try {
    parseRange(text);
    return null;
  } catch (error) {
    if (!(error instanceof AddressError)) throw error;
    return error.message;
  }
}

/** What a scope would send the secret of a credential to: its ranges as packets carry them, and the ports of its kind. Lines that cannot be read are left out. */
export function placesAsked(scope: ScopeText, kind: string): Approval {
  const service = isLogin(kind) ? 'httpsPort' : 'port';
  const rules = scope.translations.flatMap((line) => readOr(() => parseTranslation(line)));
  const prefixes: string[] = [];
  const ports = new Set<number>();
  const untranslated = scope[service];
  const followed =
    scope.neighbourSteps === 0 ? [] : scope.neighbourWithin.length > 0 ? scope.neighbourWithin : privateUse;
  for (const line of [...scope.ranges, ...followed]) {
    const whole = wholeRange(line);
    if (!whole) continue;
    const ends = [whole.first, whole.last].map((end) => ipv4FromNumber(end));
    const rule = rules.find(({ inside }) => ends.every((end) => prefixContains(inside, end)));
    const partly = rules.filter(({ inside }) => overlaps(inside, whole));
    if (rule) {
      const offset = ipv4Number(rule.outside.network) - ipv4Number(rule.inside.network);
      prefixes.push(movedBy(line, whole, offset));
      ports.add(rule[service] ?? untranslated);
      continue;
    }
    prefixes.push(line.trim());
    ports.add(untranslated);
    for (const { outside, ...own } of partly) {
      prefixes.push(`${outside.network}/${outside.length}`);
      ports.add(own[service] ?? untranslated);
    }
  }
  return { prefixes: [...new Set(prefixes)], ports: [...ports].toSorted((x, y) => x - y) };
}

/** Private-Use addresses (RFC 1918), within which neighbours are followed where nothing is said. */
const privateUse = ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16'];

function readOr<T>(read: () => T): T[] {
  try {
    return [read()];
  } catch (error) {
    if (!(error instanceof AddressError)) throw error;
    return [];
  }
}
function overlaps({ network, length }: Prefix, { first, last }: { first: number; last: number }): boolean {
  const base = ipv4Number(network);
  return base <= last && first < base + 2 ** (32 - length);
}
function movedBy(line: string, { first, last }: { first: number; last: number }, offset: number): string {
  const from = ipv4FromNumber(first + offset);
  const length = /\/(\d+)$/.exec(line.trim())?.[1];
  if (length !== undefined) return `${from}/${length}`;
  return first === last ? from : `${from}-${ipv4FromNumber(last + offset)}`;
}

/** What of the places wanted is not approved: lines that no approved line holds as a whole, and ports. */
export function unapproved(approved: Approval, wanted: Approval): Approval {
  const known = approved.prefixes.flatMap((line) => wholeRange(line) ?? []);
  const isHeld = (line: string) => {
    const asked = wholeRange(line);
    return asked !== null && known.some(({ first, last }) => first <= asked.first && asked.last <= last);
  };
  return {
    prefixes: wanted.prefixes.filter((line) => !isHeld(line)),
    ports: wanted.ports.filter((port) => !approved.ports.includes(port)),
  };
}

/** Both approvals together. */
export const together = (one: Approval, other: Approval): Approval => ({
  prefixes: [...new Set([...one.prefixes, ...other.prefixes])],
  ports: [...new Set([...one.ports, ...other.ports])].toSorted((x, y) => x - y),
});

/** An approval in words: `10.72.0.0/16, 10.73.4.1-40, ports 161, 443`. */
export function approvalWords({ prefixes, ports }: Approval): string {
  if (prefixes.length === 0 || ports.length === 0) return 'nowhere';
  const most = 3;
  const more = prefixes.length - most;
  const places = `${prefixes.slice(0, most).join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
  return `${places}, ${ports.length === 1 ? 'port' : 'ports'} ${ports.join(', ')}`;
}

/** What came of an address to which nothing may be sent. */
export const notApproved = (credentials: readonly Guarded[], { address, port }: Place): Outcome => ({
  outcome: 'failed',
  reason: `not asked: ${credentials.map(({ name }) => `“${name}”`).join(' and ')} may not be sent to ${address} port ${port}`,
  remedy:
    'If the secret belongs there, an administrator approves the address and the port at the credential. If it does not, take the address out of the scope.',
});

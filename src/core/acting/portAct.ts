import { ifAdminStatus, ifAlias } from '../mib/interfaces';
import { pethPsePortAdminEnable } from '../mib/powerEthernet';
import type { Assignment } from '../mib/varbind';

/** What can be done to a port. */
export const portActKinds = ['shut', 'enable', 'powerOff', 'powerOn', 'powerCycle', 'alias'] as const;
export type PortActKind = (typeof portActKinds)[number];
export type PortAct =
  | { kind: Exclude<PortActKind, 'alias' | 'powerCycle'> }
  | { kind: 'powerCycle'; offSeconds: number }
  | { kind: 'alias'; alias: string };

/** For how long a powered device may be left without power, in seconds. */
export const offSecondsRange = { least: 2, most: 120, usual: 5 } as const;

/**
 * How an act stands. `done`: read back, it is as wanted; `refused`: the agent would not, and nothing changed; `changed`: the port was not any more as it had been looked at, so that
 * nothing was sent; `different`: read back, it is not as wanted; `unsure`: something was sent, and nothing was heard any more; `unsent`: nobody answered, and nothing was sent.
 */
export const portActStates = [
  'queued',
  'sending',
  'done',
  'refused',
  'changed',
  'different',
  'unsure',
  'unsent',
] as const;
export type PortActState = (typeof portActStates)[number];

/** What of a port can be set, as its agent tells it now. */
export interface PortSettings {
  ifIndex: number;
  admin: string;
  oper: string;
  alias: string;
  /** null where it gives no power */
  power: {
    group: number;
    port: number;
    enabled: boolean;
    state: string;
    /** why it may be that of another socket; absent where it is this one's without doubt */
    doubt?: string;
  } | null;
}

/** One object that is written, as it goes over the wire and in words. */
export interface PlannedSet {
  /** name of the object in its MIB, and which instance */
  object: string;
  oid: string;
  value: { type: 'integer'; number: number } | { type: 'octets'; text: string };
  /** what the value means: `down (2)` */
  words: string;
  /** what it is now */
  was: string;
  /** how long is waited before it is sent */
  afterSeconds: number;
}

/** RFC 2863: DisplayString of 64 octets at most. */
const aliasOctets = 64;

/** @returns why an alias cannot be set, or null */
export function aliasMistake(alias: string): string | null {
  if (!/^[\x20-\x7e]*$/.test(alias))
    return 'An alias is plain ASCII text without line breaks (DisplayString of RFC 2863)';
  return alias.length > aliasOctets
    ? `An alias has at most ${aliasOctets} characters; this one has ${alias.length}`
    : null;
}

/**
 * What is to be sent to a port for an act, in order.
 * @param settings as the agent told them just before
 * @returns the sets, or why there are none
 */
export function plannedSets(act: PortAct, settings: PortSettings): { sets: PlannedSet[] } | { reason: string } {
  const { ifIndex, admin, alias, power } = settings;
  const adminStatus = (number: 1 | 2): PlannedSet => ({
    object: `ifAdminStatus.${ifIndex}`,
    oid: `${ifAdminStatus}.${ifIndex}`,
    value: { type: 'integer', number },
    words: number === 1 ? 'up (1)' : 'down (2)',
    was: admin,
    afterSeconds: 0,
  });
  const feeding = (number: 1 | 2, afterSeconds = 0): PlannedSet => ({
    object: `pethPsePortAdminEnable.${power?.group ?? 0}.${power?.port ?? 0}`,
    oid: `${pethPsePortAdminEnable}.${power?.group ?? 0}.${power?.port ?? 0}`,
    value: { type: 'integer', number },
    words: number === 1 ? 'true (1)' : 'false (2)',
    was: (afterSeconds > 0 ? number !== 1 : power?.enabled) ? 'true' : 'false',
    afterSeconds,
  });
  // it may be another machine's
  if (power?.doubt !== undefined && ['powerOff', 'powerOn', 'powerCycle'].includes(act.kind))
    return { reason: `Which socket this power belongs to is not certain: ${power.doubt}. Nothing is switched.` };
  switch (act.kind) {
    case 'shut':
      return admin === 'down' ? { reason: 'The port is switched off already.' } : { sets: [adminStatus(2)] };
    case 'enable':
      return admin === 'up' ? { reason: 'The port is switched on already.' } : { sets: [adminStatus(1)] };
    case 'alias': {
      const mistake = aliasMistake(act.alias);
      if (mistake) return { reason: `${mistake}.` };
      return act.alias === alias
        ? { reason: 'That is its alias already.' }
        : {
            sets: [
              {
                object: `ifAlias.${ifIndex}`,
                oid: `${ifAlias}.${ifIndex}`,
                value: { type: 'octets', text: act.alias },
                words: `“${act.alias}”`,
                was: `“${alias}”`,
                afterSeconds: 0,
              },
            ],
          };
    }
    case 'powerOff':
      if (!power) return noPower;
      return power.enabled ? { sets: [feeding(2)] } : { reason: 'The port is not allowed to give power already.' };
    case 'powerOn':
      if (!power) return noPower;
      return power.enabled ? { reason: 'The port is allowed to give power already.' } : { sets: [feeding(1)] };
    case 'powerCycle':
      if (!power) return noPower;
      return power.enabled
        ? { sets: [feeding(2), feeding(1, act.offSeconds)] }
        : { reason: 'The port is not allowed to give power: there is nothing to take away and give back.' };
  }
}

const noPower = { reason: 'The port gives no power.' };

export const assignmentOf = ({ oid, value }: PlannedSet): Assignment => ({
  oid,
  value:
    value.type === 'integer'
      ? { type: 'integer', value: value.number }
      : { type: 'octets', value: new TextEncoder().encode(value.text) },
});

/** Whether two looks at a port show the same of what can be set. */
export const sameSettings = (x: PortSettings, y: PortSettings): boolean =>
  x.ifIndex === y.ifIndex && x.admin === y.admin && x.alias === y.alias && x.power?.enabled === y.power?.enabled;

/** @returns what of an act does not show when the port is read back, in words; null where all of it does */
export function readBackMistake(act: PortAct, after: PortSettings): string | null {
  switch (act.kind) {
    case 'shut':
      return after.admin === 'down' ? null : `read back, its ifAdminStatus is still ${after.admin}`;
    case 'enable':
      return after.admin === 'up' ? null : `read back, its ifAdminStatus is still ${after.admin}`;
    case 'alias':
      return after.alias === act.alias ? null : `read back, its alias is “${after.alias}”`;
    case 'powerOff':
      return after.power?.enabled === false ? null : 'read back, it is still allowed to give power';
    default:
      return after.power?.enabled === true ? null : 'read back, it is not allowed to give power';
  }
}

/** What takes an act back, seeing how the port was before; null where nothing does. */
export function reverseOf(act: PortAct, before: PortSettings): PortAct | null {
  switch (act.kind) {
    case 'shut':
      return { kind: 'enable' };
    case 'enable':
      return { kind: 'shut' };
    case 'powerOff':
      return { kind: 'powerOn' };
    case 'powerOn':
      return { kind: 'powerOff' };
    case 'alias':
      return { kind: 'alias', alias: before.alias };
    case 'powerCycle':
      return null;
  }
}

/** Whether what hangs on the port loses its link or its power by it. */
export const interrupts = ({ kind }: Pick<PortAct, 'kind'>): boolean =>
  kind === 'shut' || kind === 'powerOff' || kind === 'powerCycle';

/** An act as it is told afterwards: `shut`, `power taken away for 5 s`. */
export function actWords(act: PortAct): string {
  switch (act.kind) {
    case 'shut':
      return 'shut';
    case 'enable':
      return 'enabled';
    case 'powerOff':
      return 'power switched off';
    case 'powerOn':
      return 'power switched on';
    case 'powerCycle':
      return `power taken away for ${act.offSeconds} s`;
    case 'alias':
      return act.alias === '' ? 'alias removed' : `alias set to “${act.alias}”`;
  }
}

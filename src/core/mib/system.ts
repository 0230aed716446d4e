import { scalar, type Answered } from './table';
import { numberOf, octetsOfValue, textOf } from './varbind';

/** SNMPv2-MIB system group (RFC 3418), snmpEngineID and snmpEngineTime (RFC 3411). */
export const systemObjects = {
  sysDescr: '1.3.6.1.2.1.1.1',
  sysObjectID: '1.3.6.1.2.1.1.2',
  sysUpTime: '1.3.6.1.2.1.1.3',
  sysContact: '1.3.6.1.2.1.1.4',
  sysName: '1.3.6.1.2.1.1.5',
  sysLocation: '1.3.6.1.2.1.1.6',
  sysServices: '1.3.6.1.2.1.1.7',
  snmpEngineID: '1.3.6.1.6.3.10.2.1.1',
  snmpEngineTime: '1.3.6.1.6.3.10.2.1.3',
} as const;

export interface SystemGroup {
  description: string;
  objectId: string;
  /** sysUpTime in seconds; wraps after 497 days */
  uptimeSeconds: number | null;
  contact: string;
  name: string;
  location: string;
  services: number | null;
  /** snmpEngineID as hex, or null if the agent does not tell */
  engineId: string | null;
  /** snmpEngineTime: seconds since its SNMP engine began, which does not wrap; absent where it is not told */
  engineSeconds?: number;
  /** objects that the device gave no answer to, by name: absent where it answered to all of them, be it with nothing */
  unheard?: string[];
}

/** The system group, or null when the agent gave none of it. */
export function parseSystem(answered: Answered): SystemGroup | null {
  const read = (object: string) => scalar(object, answered);
  const description = textOf(read(systemObjects.sysDescr));
  const objectId = textOf(read(systemObjects.sysObjectID));
  const ticks = numberOf(read(systemObjects.sysUpTime));
  const name = textOf(read(systemObjects.sysName));
  if (description === undefined && objectId === undefined && name === undefined && ticks === undefined) return null;
  const engine = octetsOfValue(read(systemObjects.snmpEngineID));
  const engineSeconds = numberOf(read(systemObjects.snmpEngineTime));
  return {
    ...(engineSeconds !== undefined && { engineSeconds }),
    description: description ?? '',
    objectId: objectId ?? '',
    uptimeSeconds: ticks === undefined ? null : Math.floor(ticks / 100),
    contact: textOf(read(systemObjects.sysContact)) ?? '',
    name: name ?? '',
    location: textOf(read(systemObjects.sysLocation)) ?? '',
    services: numberOf(read(systemObjects.sysServices)) ?? null,
    engineId:
      engine && engine.length > 0 ? Array.from(engine, (octet) => octet.toString(16).padStart(2, '0')).join('') : null,
  };
}

/** sysUpTime counts hundredths in 32 bits. */
const wrapSeconds = 2 ** 32 / 100;
/** Both are told in one answer, and begin together up to how long an agent takes to start. */
const apartSeconds = 600;

/**
 * For how long the agent runs, in seconds: sysUpTime, which begins anew every 497 days, by as many rounds more as snmpEngineTime tells. An engine time that fits no number of rounds is left
 * aside: some agents begin it anew, or count something else.
 */
export function agentUptime({
  uptimeSeconds,
  engineSeconds,
}: Pick<SystemGroup, 'uptimeSeconds' | 'engineSeconds'>): number | null {
  if (uptimeSeconds === null || engineSeconds === undefined) return uptimeSeconds;
  const rounds = Math.round((engineSeconds - uptimeSeconds) / wrapSeconds);
  if (rounds <= 0) return uptimeSeconds;
  const whole = Math.floor(uptimeSeconds + rounds * wrapSeconds);
  return Math.abs(engineSeconds - whole) <= apartSeconds ? whole : uptimeSeconds;
}

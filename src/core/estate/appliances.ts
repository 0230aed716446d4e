import type { Ups } from '../mib/ups';
import type { DeviceFacts, FaultFacts, SensorReading } from './facts';
import type { Harvest } from './harvest';

/** What devices of one purpose tell of themselves by a standard of their own: uninterruptible power supplies (RFC 1628) and printers (RFC 3805). */
type Told = Partial<Pick<Harvest, 'ups' | 'printer' | 'host'>>;

type Identity = Pick<DeviceFacts, 'role' | 'vendor' | 'model' | 'serial' | 'release'>;

/** Who such a device is, where nothing better is known of it. A server that watches its power supply stays a server. */
export function applianceIdentity({ ups, printer, host }: Told, known: Identity): Identity {
  const isOpen = known.role === 'unknown' || known.role === 'host';
  if (ups && isOpen && !hasOwnMemory(host))
    return {
      ...known,
      role: 'power',
      vendor: known.vendor || ups.vendor,
      model: known.model || ups.model,
      release: known.release || ups.release,
    };
  if (printer && (isOpen || known.role === 'printer'))
    return {
      ...known,
      role: 'printer',
      model: known.model || host?.printer || printer.name,
      serial: known.serial || printer.serial,
    };
  return known;
}

/** A computer tells of disks; the card in a power supply does not. */
const hasOwnMemory = (host: Harvest['host'] | undefined): boolean =>
  host?.storage.some(({ kind }) => kind === 'fixedDisk') ?? false;

/** Charge, load and the like, and how full what a printer prints with is. */
export function applianceReadings({ ups, printer }: Told): SensorReading[] {
  return [
    ...(ups?.readings ?? []).map((reading) => ({ ...reading, state: 'ok' })),
    ...(printer?.supplies ?? []).map(({ name, percent }) => ({
      name,
      type: 'percent',
      unit: '%',
      value: percent,
      state: percent === null ? 'unavailable' : 'ok',
    })),
  ];
}

export function applianceFaults({ ups, printer }: Told): FaultFacts[] {
  return [
    ...(ups ? upsFaults(ups) : []),
    ...(printer?.alerts ?? []).map(({ words, critical }): FaultFacts => ({
      subsystem: 'printer',
      part: 'printer',
      severity: critical ? 'critical' : 'warning',
      message: words,
      action: critical ? 'It does not print until this is seen to.' : 'See to it before it stops printing.',
      since: null,
    })),
  ];
}

/** Its own alarms; where it raises none, what its state means all the same. */
function upsFaults({ alarms, battery, source }: Ups): FaultFacts[] {
  const fault = (words: string, critical: boolean): FaultFacts => ({
    subsystem: 'power',
    part: 'uninterruptible power',
    severity: critical ? 'critical' : 'warning',
    message: words,
    action: critical
      ? 'What hangs on it may lose its power: look at its input and its battery.'
      : 'Look at it before it is needed.',
    since: null,
  });
  if (alarms.length > 0) return alarms.map(({ words, critical }) => fault(words, critical));
  return [
    ...(battery === 'low' || battery === 'depleted'
      ? [fault(battery === 'low' ? 'the battery is low' : 'the battery is used up', true)]
      : []),
    ...(source === 'battery' ? [fault('runs on battery', true)] : []),
    ...(source === 'bypass' ? [fault('the bypass is in use', false)] : []),
    ...(source === 'none' ? [fault('the output is off', true)] : []),
  ];
}

import { customType } from 'drizzle-orm/sqlite-core';

/**
 * How visits lie in the file. They are the one thing that every survey adds for every address, changed or not: names of phases and the words
 * for silence would weigh more than all else. Both lists may only grow at their end: what was written before is read by its place. A part that has none stands by its name.
 */
const phases = [
  'probe',
  'collect',
  'interpret',
  'commit',
  'system',
  'interfaces',
  'modules',
  'sensors',
  'addresses',
  'neighbourAddresses',
  'bridge',
  'lldp',
  'host',
  'power',
  'services',
  'software',
  'routing',
  'machines',
  'contexts',
  'wireless',
  'told',
  'security',
  'private',
  'snmp',
  'redfish',
  'restconf',
  'wireless',
  'fabric',
  'hypervisors',
  'standby',
  'portAccess',
  'alarms',
  'ups',
  'printer',
];
const standing = [
  '',
  'no answer to any credential',
  'Nothing may live here, or SNMP is off, filtered, or wants another community. Check reachability, then access rules on the device.',
  'no answer over HTTPS',
  'Nothing may live here, or its HTTPS port is another, off or filtered. Check reachability, then access rules on the device.',
];
const marked = /^§(\d+)$/;

export function packWords(words: string): string {
  const at = standing.indexOf(words);
  return at > 0 ? `§${at}` : words;
}

export function unpackWords(stored: string): string {
  const at = marked.exec(stored)?.[1];
  return at === undefined ? stored : (standing[Number(at)] ?? stored);
}

/** Milliseconds by place; what has no place stands behind them by its name. */
export function packPhases(seconds: Record<string, number>): string {
  const list: (number | null)[] = [];
  const others: Record<string, number> = {};
  for (const [name, value] of Object.entries(seconds)) {
    const at = phases.indexOf(name);
    if (at >= 0) list[at] = Math.round(value * 1000);
    else others[name] = value;
  }
  const places = Array.from(list, (value) => value ?? '').join(',');
  return Object.keys(others).length > 0 ? `${places};${JSON.stringify(others)}` : places;
}

export function unpackPhases(stored: string): Record<string, number> {
  // as it was written before it was packed
  if (stored.startsWith('{')) return JSON.parse(stored) as Record<string, number>;
  const end = stored.indexOf(';');
  const places = end < 0 ? stored : stored.slice(0, end);
  const seconds: Record<string, number> = {};
  places.split(',').forEach((value, at) => {
    const name = phases[at];
    if (value !== '' && name !== undefined) seconds[name] = Number(value) / 1000;
  });
  return end < 0 ? seconds : { ...seconds, ...(JSON.parse(stored.slice(end + 1)) as Record<string, number>) };
}

export const packedWords = customType<{ data: string; driverData: string }>({
  dataType: () => 'text',
  toDriver: packWords,
  fromDriver: unpackWords,
});
export const packedPhases = customType<{ data: Record<string, number>; driverData: string }>({
  dataType: () => 'text',
  toDriver: packPhases,
  fromDriver: unpackPhases,
});

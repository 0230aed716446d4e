import { thingKinds, type ThingKind } from '@/core/dependency/graph';
import { term } from '@/core/things/near';
import type { ThingName } from '@/core/things/things';

const tables: Partial<Record<ThingKind, ThingName>> = { device: 'devices', endpoint: 'endpoints', machine: 'machines' };

/** What the address selects, and the table in which it has a dossier; null for none. */
export function selectedThing(
  sel: string | null,
): { kind: ThingKind; id: string; thing: ThingName | undefined } | null {
  const [, word = '', id = ''] = /^([a-z]+):(.+)$/s.exec(sel ?? '') ?? [];
  const kind = thingKinds.find((one) => one === word);
  return kind && id ? { kind, id, thing: tables[kind] } : null;
}

/** A filter of the listeners of a service, by its id. */
export function listenersTerm(id: string): string {
  const [, deviceId = '', process = ''] = /^(\d+) (.*)$/s.exec(id) ?? [];
  const own = /^(tcp|udp)\/\d+$/.test(process) ? term('port', process.split('/')[1]) : term('process', process);
  return `${term('device.id', deviceId)} ${own}`;
}

import { format, formatDistanceToNowStrict } from 'date-fns';
import type { FieldKind } from '@/core/filter/filterField';
import type { ThingField } from '@/core/things/thing';
import { spoken } from '@/core/values/spoken';
import { formatAge, formatBytes, formatSpeed } from '@/core/values/quantity';

/** `Mon 23 Nov, 06:00` */
export function moment(iso: string): string {
  return iso ? format(new Date(iso), 'EEE d MMM, HH:mm') : '';
}

/** `23 Nov` */
export function day(iso: string): string {
  return iso ? format(new Date(iso), 'd MMM') : '';
}

/** `Mon 23 Nov 2026`: a day of the calendar, wherever one is. */
export const wholeDay = (iso: string): string => format(new Date(`${iso}T00:00`), 'EEE d MMM yyyy');

/** How long ago, in words. */
export function ago(iso: string): string {
  return iso ? `${formatDistanceToNowStrict(new Date(iso))} ago` : '';
}

/** A value as a table shows it. */
export function cellText(value: unknown, kind: FieldKind): string {
  if (value === null || value === undefined || value === '') return '';
  if (Array.isArray(value)) return value.map((item) => cellText(item, kind)).join(', ');
  if (typeof value === 'object') return JSON.stringify(value);
  if (kind === 'boolean') return value ? 'yes' : '';
  if (kind === 'date')
    return /^\d{4}-\d{2}-\d{2}$/.test(String(value)) ? wholeDay(String(value)) : moment(String(value));
  if (typeof value === 'number') {
    if (kind === 'bytes') return formatBytes(value);
    if (kind === 'bitsPerSecond') return value > 0 ? formatSpeed(value) : '';
    if (kind === 'seconds') return formatAge(value);
  }
  return String(value);
}

/** A value of a field as a table shows it. */
export function fieldText(value: unknown, { kind, isDay = false, isSpoken = false }: Shown): string {
  const text = cellText(value, isDay ? 'date' : kind);
  return isSpoken ? spoken(text) : text;
}

type Shown = Pick<ThingField, 'kind' | 'isDay' | 'isSpoken'>;

/** A value that came as text, as a group or a share of a picture is called, as a table shows it; nothing is “none”. */
export function namedText(value: string, field: Shown | undefined): string {
  const kind = field?.isDay ? 'date' : field?.kind;
  if (value === '' || kind === undefined) return value || 'none';
  if (kind === 'boolean') return value === 'true' || value === 'yes' ? 'yes' : 'no';
  const quantity = kind === 'bytes' || kind === 'bitsPerSecond' || kind === 'seconds';
  const text = cellText(quantity ? Number(value) : value, kind) || 'none';
  return field?.isSpoken ? spoken(text) : text;
}

export const monoKinds = new Set<FieldKind>(['address', 'mac', 'release', 'bitsPerSecond']);

import { dateAndTime } from './hostSoftware';
import { tableRows, type Answered, type Cells } from './table';
import { numberOf, octetsOfValue, textOf } from './varbind';

/** ENTITY-MIB (RFC 6933): entPhysicalTable, entAliasMappingTable, and of entLogicalTable the names of contexts. */
export const entityTables = {
  entLogicalEntry: '1.3.6.1.2.1.47.1.2.1.1',
  entPhysicalEntry: '1.3.6.1.2.1.47.1.1.1.1',
  entAliasMappingEntry: '1.3.6.1.2.1.47.1.3.2.1',
} as const;

/** From entPhysicalDescr to IsFRU, then MfgDate and UUID. */
export const entPhysicalColumns = [2, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 19] as const;

/** PhysicalClass of RFC 6933, in the order of its numbers. */
export const physicalClasses = [
  'unknown',
  'other',
  'unknown',
  'chassis',
  'backplane',
  'container',
  'powerSupply',
  'fan',
  'sensor',
  'module',
  'port',
  'stack',
  'cpu',
  'energyObject',
  'battery',
  'storageDrive',
] as const;
export type PhysicalClass = (typeof physicalClasses)[number];

export interface PhysicalRow {
  entPhysicalIndex: number;
  description: string;
  containedIn: number;
  class: PhysicalClass;
  /** entPhysicalParentRelPos; -1 where the agent does not tell */
  position: number;
  name: string;
  hardwareRevision: string;
  firmwareRevision: string;
  softwareRevision: string;
  serial: string;
  vendor: string;
  model: string;
  /** entPhysicalAssetID: the owner's own inventory number */
  assetId: string;
  replaceable: boolean;
  /** entPhysicalAlias: what people called it on the device */
  alias?: string;
  /** entPhysicalMfgDate as YYYY-MM-DD */
  madeOn?: string;
  /** entPhysicalUUID, lower case (RFC 9562) */
  uuid?: string;
}

/** Rows of entPhysicalTable in index order. What only stands in the place of a serial counts as none. */
export function parsePhysical(answered: Answered): PhysicalRow[] {
  return tableRows(entityTables.entPhysicalEntry, answered)
    .filter((row) => row.index.length === 1)
    .map(({ index, cells }) => ({
      ...seldomTold(cells),
      entPhysicalIndex: index[0] ?? 0,
      description: textOf(cells.get(2)) ?? '',
      containedIn: numberOf(cells.get(4)) ?? 0,
      class: physicalClasses[numberOf(cells.get(5)) ?? 0] ?? 'unknown',
      position: numberOf(cells.get(6)) ?? -1,
      name: textOf(cells.get(7)) ?? '',
      hardwareRevision: textOf(cells.get(8)) ?? '',
      firmwareRevision: textOf(cells.get(9)) ?? '',
      softwareRevision: textOf(cells.get(10)) ?? '',
      serial: cleanSerial(textOf(cells.get(11)) ?? '', textOf(cells.get(12))),
      vendor: textOf(cells.get(12)) ?? '',
      model: textOf(cells.get(13)) ?? '',
      assetId: textOf(cells.get(15)) ?? '',
      replaceable: numberOf(cells.get(16)) === 1,
    }))
    .sort((a, b) => a.entPhysicalIndex - b.entPhysicalIndex);
}

function seldomTold(cells: Cells): Pick<PhysicalRow, 'alias' | 'madeOn' | 'uuid'> {
  const alias = textOf(cells.get(14)) ?? '';
  // all noughts say that the date is not known (RFC 6933)
  const madeOn = dateAndTime(octetsOfValue(cells.get(17)))?.slice(0, 10);
  const octets = octetsOfValue(cells.get(19));
  const digits =
    octets?.length === 16 ? Array.from(octets, (octet) => octet.toString(16).padStart(2, '0')).join('') : '';
  return {
    ...(alias && { alias }),
    ...(madeOn && { madeOn }),
    ...(/[1-9a-f]/.test(digits) && { uuid: digits.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5') }),
  };
}

const noSerial =
  /^(n\/?a|null|nil|none|unknown|undefined|unspecified|invalid|not (available|specified|applicable|present|set|programmed)|empty|serial( ?(number|no\.?))?|to be filled.*|default( string)?|system serial number|chassis serial number|-+|\?+|\.+)$/i;

/**
 * A serial number, or nothing for what makers and agents write in its place: words, `123456789`, one letter repeated, the maker’s own name. Such would make one
 * device of many.
 */
export function cleanSerial(serial: string, vendor = ''): string {
  const text = serial.trim();
  const bare = text.replaceAll(/[\s._-]/g, '');
  const isRun = bare.length > 5 && ('01234567890123456789'.includes(bare) || '9876543210'.includes(bare));
  const isOneLetter = bare.length > 1 && new Set(bare.toLowerCase()).size === 1;
  const isMaker = vendor !== '' && text.toLowerCase() === vendor.trim().toLowerCase();
  return bare === '' || bare === '0' || noSerial.test(text) || isRun || isOneLetter || isMaker ? '' : text;
}

/** entAliasMappingIdentifier: physical index → ifIndex, for entries that point at ifIndex (RFC 6933). */
export function parseAliasMapping(answered: Answered): Map<number, number> {
  const mapping = new Map<number, number>();
  for (const { index, cells } of tableRows(entityTables.entAliasMappingEntry, answered)) {
    const match = /^1\.3\.6\.1\.2\.1\.2\.2\.1\.1\.(\d+)$/.exec(textOf(cells.get(2)) ?? '');
    if (match && index[0] !== undefined) mapping.set(index[0], Number(match[1]));
  }
  return mapping;
}

/** Names of the SNMPv3 contexts by which the agent's logical entities (virtual routers, bridges) are asked; the default context is left out. */
export function parseContextNames(answered: Answered): string[] {
  const names = tableRows(entityTables.entLogicalEntry, answered).map(({ cells }) => textOf(cells.get(8)) ?? '');
  return [...new Set(names.filter(Boolean))];
}

import { linearPattern } from '../values/linearPattern';
import type { Role } from '../estate/facts';
import type { FaceplatePlan } from '../layout/faceplateRows';
import type { PhysicalClass, PhysicalRow } from '../mib/entity';
import type { SystemGroup } from '../mib/system';
import type { Reading } from './reading';
import type { UpdateOverRestconf } from './updateOverRestconf';

/**
 * The rule by which a device is recognised and its extra facts are read. Signatures are data files;
 * the first one that matches wins, more specific files come first by their `order`.
 */
export interface Signature {
  id: string;
  /** lower is tried first; the generic one comes last */
  order: number;
  match: {
    /** sysObjectID equals this or lies below it */
    objectId?: string;
    /** regular expression over sysDescr, case-insensitive */
    description?: string;
    /** regular expression over the model of the first chassis, by ENTITY or Redfish, where sysDescr says nothing useful */
    chassisModel?: string;
    /** regular expression over the maker of the first chassis, by ENTITY or Redfish */
    manufacturer?: string;
  };
  vendor: string;
  role: Role;
  /** where family, model and release come from: a literal, or a named group of a pattern over sysDescr, or a column of the chassis row */
  family?: Extraction;
  model?: Extraction;
  release?: Extraction;
  serial?: Extraction;
  /** name of the release scheme, e.g. `dotted-letter` */
  scheme?: string;
  /** extra objects asked with one GET */
  objects?: Partial<Record<ExtraFact, ExtraObject>>;
  /** values a person wants to see over time */
  readings?: Reading[];
  /**
   * The memory that counts is that of modules, not the chassis': a private column indexed by entPhysicalIndex, and which modules are meant.
   * Of several the smallest counts: the others must be able to take over.
   */
  moduleMemory?: { column: string; class: PhysicalClass; name?: string; multiplyBy?: number };
  /**
   * What no standard tells of ports, in private columns indexed by ifIndex: why the device itself switched a port off (numbers that have no words mean that it did not), and how much
   * power the machine there draws, in watts.
   */
  ports?: {
    disabledBy?: { column: string; values: Record<string, string> };
    watts?: { column: string; multiplyBy?: number };
  };
  /**
   * Further SNMP contexts the device must be asked in: those it lists as logical entities (ENTITY-MIB), or one for each of its VLANs.
   * `name` is what the context, or what follows `@` in the community, is called; `{vlan}` stands for the number.
   */
  contexts?: { of: 'logical entities' } | { of: 'vlans'; name: string };
  /** how its firmware is changed, where no standard says it */
  update?: { restconf: UpdateOverRestconf };
  /** how ports stand on the metal; derived from names when absent */
  faceplate?: FaceplatePlan;
}

/** Facts that no standard MIB tells. */
export const extraFacts = [
  'memoryBytes',
  'flashBytes',
  'flashFreeBytes',
  'serial',
  'release',
  'bootRelease',
  'bootImage',
  'redundancyRole',
  'unsavedConfiguration',
] as const;
export type ExtraFact = (typeof extraFacts)[number];

/** One private object: its instance, a factor for numbers, words for enumerated values. */
export interface ExtraObject {
  oid: string;
  multiplyBy?: number;
  values?: Record<string, string>;
}

export type Extraction =
  | { literal: string }
  | { description: string }
  | { chassis: 'model' | 'softwareRevision' | 'firmwareRevision' | 'serial' };

export interface Recognition {
  signature: string;
  vendor: string;
  role: Role;
  family: string;
  model: string;
  release: string;
  serial: string;
  scheme: string;
}

/** The first signature that fits the system group. The list must end with one whose match is empty. */
export function chooseSignature(
  signatures: Signature[],
  system: Pick<SystemGroup, 'objectId' | 'description'>,
  chassis?: { model: string; vendor: string },
): Signature | null {
  return (
    [...signatures]
      .sort((a, b) => a.order - b.order)
      .find(({ match }) => {
        if (match.objectId && system.objectId !== match.objectId && !system.objectId.startsWith(`${match.objectId}.`))
          return false;
        if (match.chassisModel && (chassis === undefined || !linearPattern(match.chassisModel).test(chassis.model)))
          return false;
        if (match.manufacturer && (chassis === undefined || !linearPattern(match.manufacturer).test(chassis.vendor)))
          return false;
        return !match.description || linearPattern(match.description).test(system.description);
      }) ?? null
  );
}

/** Memory of the modules that count, in bytes; null where the signature names none or the device tells none. */
export function countedMemory(
  { moduleMemory }: Pick<Signature, 'moduleMemory'>,
  modules: PhysicalRow[],
  bytesByIndex: ReadonlyMap<number, number>,
): number | null {
  if (!moduleMemory) return null;
  const name = linearPattern(moduleMemory.name ?? '');
  const sizes = modules.flatMap((row) =>
    row.class === moduleMemory.class && name.test(`${row.name} ${row.description}`)
      ? (bytesByIndex.get(row.entPhysicalIndex) ?? [])
      : [],
  );
  return sizes.length > 0 ? Math.min(...sizes) : null;
}

/** Reads vendor, family, model, release and serial as the signature says. What it does not say comes from the chassis row of ENTITY. */
export function recognise(
  signature: Signature,
  system: Pick<SystemGroup, 'description' | 'services'>,
  modules: (Pick<
    PhysicalRow,
    'class' | 'vendor' | 'model' | 'description' | 'softwareRevision' | 'firmwareRevision' | 'serial'
  > &
    Partial<Pick<PhysicalRow, 'containedIn'>>)[],
): Recognition {
  // some agents list a box without calling it a chassis: then it is the one part that nothing holds
  const roots = modules.filter(({ containedIn }) => containedIn === 0);
  const chassis =
    modules.find((row) => row.class === 'chassis') ??
    modules.find((row) => row.class === 'stack') ??
    (roots.length === 1 ? roots[0] : undefined);
  const read = (extraction: Extraction | undefined, fallback: string): string => {
    if (!extraction) return fallback;
    if ('literal' in extraction) return extraction.literal;
    if ('chassis' in extraction) return chassis?.[extraction.chassis] ?? fallback;
    return (linearPattern(extraction.description).valueIn(system.description) ?? fallback).trim();
  };
  return {
    signature: signature.id,
    vendor: signature.vendor || chassis?.vendor || '',
    role: signature.role === 'unknown' ? roleFromServices(system) : signature.role,
    family: read(signature.family, ''),
    model: read(signature.model, chassis?.model || chassis?.description || ''),
    release: read(signature.release, chassis?.softwareRevision || chassis?.firmwareRevision || ''),
    serial: read(signature.serial, chassis?.serial ?? ''),
    scheme: signature.scheme ?? 'dotted',
  };
}

/** sysServices (RFC 3418): bit 2 (value 2) datalink, bit 3 (4) internet, bit 7 (64) applications. */
function roleFromServices(system: Pick<SystemGroup, 'services'>): Role {
  const services = system.services ?? 0;
  if (services & 64) return 'host';
  if (services & 4 && services & 2) return 'switch';
  if (services & 4) return 'router';
  if (services & 2) return 'switch';
  return 'unknown';
}

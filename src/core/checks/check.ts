import type { FilterNode } from '../filter/filterNode';
import { parseFilter } from '../filter/syntax';
import { writtenFilter } from '../filter/written';
import { relatedThings, type ThingName } from '../things/things';

export const severities = ['severe', 'moderate', 'minor'] as const;
export type Severity = (typeof severities)[number];

/** A rule the estate must satisfy: a filter that must hold nothing. */
export interface Check {
  /** of the library, or of one's own: `own-3` */
  key: string;
  name: string;
  thing: ThingName;
  /** what must not be there */
  where: string;
  /** a filter of devices: only what belongs to these is looked at; empty for all */
  scope: string;
  severity: Severity;
  /** why it matters */
  why: string;
  remedy: string;
  /** judged at every survey */
  on: boolean;
}

/** A check cannot be as it is written. */
export class CheckMistake extends Error {
  constructor(
    readonly path: 'thing' | 'where' | 'scope',
    message: string,
  ) {
    super(message);
  }
}

/** Things that are no state of the estate, so that nothing of them must be empty. */
const notChecked = new Set<ThingName>(['changes', 'visits', 'ledger']);
export const mayBeChecked = (thing: ThingName): boolean => !notChecked.has(thing);

/** The words by which rows of a thing name the devices they belong to. */
function waysToDevice(thing: ThingName): string[] {
  if (thing === 'devices') return [''];
  return Object.entries(relatedThings[thing] ?? {}).flatMap(([word, other]) =>
    other === 'devices' ? [`${word}.`] : [],
  );
}

/** A filter of devices as a filter of what belongs to them. Null where rows belong to no device. @throws FilterError, CheckMistake */
export function deviceFilterOf(thing: ThingName, devices: string): string | null {
  const ways = waysToDevice(thing);
  if (ways.length === 0) return null;
  const tree = parseFilter(devices);
  const through = (node: FilterNode, way: string): FilterNode => {
    switch (node.kind) {
      case 'term':
        if (node.field === null)
          throw new CheckMistake('scope', `“${node.value}” must say which field it is of, like site=${node.value}`);
        if (way !== '' && node.field.includes('.'))
          throw new CheckMistake('scope', `“${node.field}” is two steps away from ${thing}`);
        return { ...node, field: `${way}${node.field}` };
      case 'not':
        return { ...node, of: through(node.of, way) };
      default:
        return { ...node, of: node.of.map((part) => through(part, way)) };
    }
  };
  const trees = ways.map((way) => through(tree, way));
  const [only] = trees;
  return writtenFilter(trees.length === 1 && only ? only : { kind: 'any', of: trees });
}

const bracketed = (filter: string) => `(${filter})`;

/** The filter that must hold nothing: the rule within its scope. @throws FilterError, CheckMistake */
export function filterOfCheck({ thing, where, scope }: Pick<Check, 'thing' | 'where' | 'scope'>): string {
  parseFilter(where);
  if (scope.trim() === '') return where.trim();
  const within = deviceFilterOf(thing, scope);
  if (within === null)
    throw new CheckMistake('scope', `${thing} belong to no device: leave the scope empty and say it in the filter`);
  return `${bracketed(where.trim())} ${bracketed(within)}`;
}

/** Of what a check finds, that which is expected since somebody works at it. Null where rows belong to no device. */
export function filterOfExcused(filter: string, thing: ThingName): string | null {
  const within = deviceFilterOf(thing, 'maintenance=yes');
  return within === null ? null : `${bracketed(filter)} ${bracketed(within)}`;
}

/** How a check stood at a survey. */
export interface Judgement {
  key: string;
  survey: number;
  /** rows that are there and must not be, those in maintenance left out */
  failing: number;
  /** rows of devices in maintenance */
  excused: number;
  /** the filter that was judged */
  filter: string;
  /** why it could not be judged; empty where it could */
  fault: string;
}

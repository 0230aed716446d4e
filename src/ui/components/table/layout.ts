'use client';

import type { ThingField } from '@/core/things/thing';
import type { ThingName } from '@/core/things/things';
import { useFieldsOf } from '../../lib/ownFields';
import { usePreference } from '../../lib/usePreference';

/** A column as a person has it: its place is its place in the list, its width may be their own. */
export interface Column extends ThingField {
  /** a width that somebody chose does not give way to others */
  fixed?: boolean;
}

export type Density = 'roomy' | 'close';
export const rowHeights: Record<Density, number> = { roomy: 30, close: 23 };

export interface TableLayout {
  columns: Column[];
  /** names of the columns that are shown, in their order */
  chosen: string[];
  choose: (names: string[]) => void;
  /** a width in pixels; null for as at first */
  resize: (name: string, width: number | null) => void;
  /** puts a column before another one; behind all where there is none */
  move: (name: string, before: string | null) => void;
  density: Density;
  setDensity: (density: Density) => void;
  /** columns, order and widths as they were before anybody chose */
  reset: () => void;
}

const none: string[] = [];
const narrowest = 36;
const widest = 900;

/**
 * How a person has laid out the table of a thing. Kept for good; a list of columns in the address of the page goes before it, until they choose others.
 * @param lead columns that stand first where nobody has chosen any; a table with others is laid out by itself
 */
export function useTableLayout(
  thing: ThingName,
  fromAddress: string | null = null,
  leaveAddress: () => void = () => undefined,
  lead: string[] = none,
): TableLayout {
  const fields = useFieldsOf()(thing);
  const atFirst = [
    ...lead,
    ...fields.filter(({ name, shown }) => shown && !lead.includes(name)).map(({ name }) => name),
  ];
  const [kept, keep] = usePreference<string[]>(`columns.${thing}${lead.length > 0 ? ` ${lead.join()}` : ''}`, atFirst);
  const choose = (names: string[]) => {
    keep(names);
    if (fromAddress !== null) leaveAddress();
  };
  const [widths, setWidths] = usePreference<Record<string, number>>(`widths.${thing}`, {});
  const [density, setDensity] = usePreference<Density>('density', 'roomy');
  const known = (names: string[]) => names.filter((name) => fields.some((field) => field.name === name));
  const asked = known(fromAddress?.split(',') ?? []);
  const chosen = asked.length > 0 ? asked : known(kept).length > 0 ? known(kept) : atFirst;
  const columns = chosen.flatMap((name): Column[] => {
    const field = fields.find((candidate) => candidate.name === name);
    const width = widths[name];
    return field ? [width === undefined ? field : { ...field, width, fixed: true }] : [];
  });
  return {
    columns,
    chosen,
    choose,
    density,
    setDensity,
    resize: (name, width) => {
      const { [name]: _before, ...others } = widths;
      setWidths(
        width === null ? others : { ...others, [name]: Math.round(Math.max(narrowest, Math.min(widest, width))) },
      );
    },
    move: (name, before) => choose(moved(chosen, name, before)),
    reset: () => {
      choose(atFirst);
      setWidths({});
    },
  };
}

/** The list with one name put before another, or at the end. */
export function moved(names: string[], name: string, before: string | null): string[] {
  if (name === before) return names;
  const rest = names.filter((other) => other !== name);
  const at = before === null ? rest.length : rest.indexOf(before);
  return at < 0 ? names : [...rest.slice(0, at), name, ...rest.slice(at)];
}

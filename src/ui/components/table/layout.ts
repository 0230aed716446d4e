'use client';

import {
  columnOrderingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  tableFeatures,
  useTable,
  type Updater,
} from '@tanstack/react-table';
import { useMemo } from 'react';
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
  /** shows a column, behind the others, or hides it; the last one stays */
  toggle: (name: string) => void;
  /** a width in pixels; null for as at first */
  resize: (name: string, width: number | null) => void;
  /** puts a column before another one; behind all where there is none */
  move: (name: string, before: string | null) => void;
  density: Density;
  setDensity: (density: Density) => void;
  /** columns, order and widths as they were before anybody chose */
  reset: () => void;
}

const features = tableFeatures({ columnOrderingFeature, columnSizingFeature, columnVisibilityFeature });
/** The table holds columns alone: its rows are the server's. */
const noRows: Record<string, never>[] = [];
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
  const [widths, setWidths] = usePreference<Record<string, number>>(`widths.${thing}`, {});
  const [density, setDensity] = usePreference<Density>('density', 'roomy');
  const known = (names: string[]) => names.filter((name) => fields.some((field) => field.name === name));
  const asked = known(fromAddress?.split(',') ?? []);
  const shown = asked.length > 0 ? asked : known(kept).length > 0 ? known(kept) : atFirst;
  const choose = (names: string[]) => {
    if (names.length === 0) return;
    keep(names);
    if (fromAddress !== null) leaveAddress();
  };

  const definitions = useMemo(
    () => fields.map(({ name, width }) => ({ id: name, size: width, minSize: 0, maxSize: widest })),
    [fields],
  );
  const order = [...shown, ...fields.map(({ name }) => name).filter((name) => !shown.includes(name))];
  const visibility = Object.fromEntries(fields.map(({ name }) => [name, shown.includes(name)]));
  const table = useTable({
    features,
    data: noRows,
    columns: definitions,
    state: { columnOrder: order, columnVisibility: visibility, columnSizing: widths },
    onColumnOrderChange: (change) => choose(changed(change, order).filter((name) => visibility[name])),
    onColumnVisibilityChange: (change) => {
      const next = changed(change, visibility);
      choose(order.filter((name) => next[name]));
    },
    onColumnSizingChange: (change) => setWidths(changed(change, widths)),
  });
  const columns = table.getVisibleLeafColumns().flatMap((column): Column[] => {
    const field = fields.find(({ name }) => name === column.id);
    return field ? [column.id in widths ? { ...field, width: column.getSize(), fixed: true } : field] : [];
  });

  return {
    columns,
    chosen: columns.map(({ name }) => name),
    toggle: (name) => table.getColumn(name)?.toggleVisibility(),
    density,
    setDensity,
    resize: (name, width) =>
      table.setColumnSizing(({ [name]: _before, ...others }) =>
        width === null ? others : { ...others, [name]: Math.round(Math.max(narrowest, Math.min(widest, width))) },
      ),
    move: (name, before) => table.setColumnOrder(moved(shown, name, before)),
    reset: () => {
      choose(atFirst);
      table.setColumnSizing({});
    },
  };
}

const changed = <State>(change: Updater<State>, before: State): State =>
  typeof change === 'function' ? (change as (before: State) => State)(before) : change;

/** The list with one name put before another, or at the end. */
export function moved(names: string[], name: string, before: string | null): string[] {
  if (name === before) return names;
  const rest = names.filter((other) => other !== name);
  const at = before === null ? rest.length : rest.indexOf(before);
  return at < 0 ? names : [...rest.slice(0, at), name, ...rest.slice(at)];
}

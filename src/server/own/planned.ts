import { exportedColumns } from '../../core/things/exportedColumns';
import { things } from '../../core/things/things';
import { everyRow, valueAt } from '../../core/tables/column';
import { rowsThatFit } from '../../core/tables/select';
import type { OwnedThing, OwnField } from '../../core/own/ownField';
import { planEdit, type EditMistake, type FieldEdit, type OwnChange, type OwnedRow } from '../../core/own/planEdit';
import { planImport, type ImportPlan } from '../../core/own/planImport';
import type { Store } from '../../store/base/database';
import { readOwnFields } from '../../store/ownFields';
import { tablesOf } from '../query/tables/estateTables';
import type { ThingTable } from '../query/tables/thingTable';

/** Which rows an edit is for: those with these ids, or all that a filter holds at a survey. */
export interface RowsMeant {
  survey: number;
  ids?: string[];
  where?: string;
}

export interface PlannedEdit {
  rows: number;
  changes: OwnChange[];
  mistakes: EditMistake[];
}

export const mostEditedRows = 50_000;

/** An edit of more rows than anybody can mean. */
export class TooManyRowsError extends Error {
  override name = 'TooManyRowsError';
}

/** What an edit would change. @throws FilterError, TooManyRowsError */
export function plannedEdit(
  store: Store,
  thing: OwnedThing,
  meant: RowsMeant,
  edits: Record<string, FieldEdit>,
): PlannedEdit {
  const tables = tablesOf(store);
  const table = tables.table(thing, meant.survey, null);
  const places = meant.ids
    ? Uint32Array.from(meant.ids.map((id) => table.rowOf(id)).filter((row) => row >= 0))
    : rowsThatFit(tables.select(thing, meant.survey, table, meant.where ?? ''));
  if (places.length > mostEditedRows)
    throw new TooManyRowsError(
      `${places.length.toLocaleString('en')} rows are more than ${mostEditedRows.toLocaleString('en')}: narrow the table first`,
    );
  const fields = readOwnFields(store.db).filter((field) => field.thing === thing);
  const { changes, mistakes } = planEdit(ownedRows(thing, table, places, fields), edits, fields);
  return { rows: places.length, changes, mistakes };
}

/** Rows as an edit sees them, read from columns alone. */
function ownedRows(thing: OwnedThing, table: ThingTable, places: Iterable<number>, fields: OwnField[]): OwnedRow[] {
  const called = nameOf(thing, table);
  const own = fields.map(({ name }) => ({ name, column: table.column(name) }));
  return Array.from(places, (row) => ({
    id: called(row).id,
    row: called(row).words,
    values: Object.fromEntries(own.map(({ name, column }) => [name, valueAt(column, row)])),
  }));
}

/** Ids and names of rows: `sgh-core-1`, `sgh-core-1 3/1`, a MAC. */
function nameOf(thing: OwnedThing, table: ThingTable): (row: number) => { id: string; words: string } {
  const text = (field: string, row: number) => String(valueAt(table.column(field), row) ?? '');
  switch (thing) {
    case 'devices': {
      const keys = table.keys();
      return (row) => ({ id: String(keys[row]), words: text('name', row) });
    }
    case 'ports': {
      const owners = table.owners();
      return (row) => ({
        id: `${owners[row] ?? 0}:${text('name', row)}`,
        words: `${text('device', row)} ${text('name', row)}`,
      });
    }
    default:
      return (row) => ({ id: text('mac', row), words: text('mac', row) });
  }
}

/** Which columns of a file say what row is meant, by thing. */
const keysOf: Record<OwnedThing, { name: string; labels: string[]; fields: string[] }[]> = {
  devices: [
    { name: 'name', labels: ['name', 'device'], fields: ['name'] },
    { name: 'serial', labels: ['serial'], fields: ['serial'] },
    { name: 'address', labels: ['address'], fields: ['addresses', 'address'] },
  ],
  ports: [{ name: 'port', labels: ['port'], fields: [] }],
  endpoints: [{ name: 'mac', labels: ['mac'], fields: ['mac'] }],
};

/** Columns of a thing that equipment tells, by name and as they are headed, in lower case: a file that was exported has them. */
function toldColumns(thing: OwnedThing): ReadonlySet<string> {
  const { fields, script } = things[thing];
  const heads = exportedColumns(
    fields,
    fields.map(({ name }) => name),
  ).map(({ head }) => head);
  const all = ['id', 'change', ...script, ...heads, ...fields.flatMap(({ name, label }) => [name, label])];
  return new Set(all.map((column) => column.toLowerCase()));
}

/** What a file would change. Ports are named `device port` in one column. */
export function plannedImport(
  store: Store,
  thing: OwnedThing,
  survey: number,
  head: string[],
  lines: { line: number; cells: string[] }[],
): ImportPlan {
  const table = tablesOf(store).table(thing, survey, null);
  const fields = readOwnFields(store.db).filter((field) => field.thing === thing);
  const keys = keysOf[thing].map(({ name, labels, fields: of }) => {
    let index: Map<string, number[]> | null = null;
    return {
      name,
      labels,
      find: (value: string) =>
        ownedRows(thing, table, (index ??= indexBy(thing, table, of)).get(value.trim().toLowerCase()) ?? [], fields),
    };
  });
  const told = toldColumns(thing);
  return planImport(head, lines, fields, keys, (column) => told.has(column.toLowerCase().split('.')[0] ?? ''));
}

function indexBy(thing: OwnedThing, table: ThingTable, fields: string[]): Map<string, number[]> {
  const index = new Map<string, number[]>();
  const called = nameOf(thing, table);
  const add = (text: string, row: number) => {
    const key = text.toLowerCase();
    const rows = index.get(key);
    if (!rows) index.set(key, [row]);
    else if (!rows.includes(row)) rows.push(row);
  };
  for (const row of everyRow(table.size)) {
    if (fields.length === 0) add(called(row).words, row);
    for (const field of fields) {
      const value = valueAt(table.column(field), row);
      for (const one of Array.isArray(value) ? (value as unknown[]) : [value])
        if (one !== null && one !== '') add(String(one), row);
    }
  }
  return index;
}

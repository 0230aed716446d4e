import { withOwnFields } from '../../core/own/ownField';
import type { Thing } from '../../core/things/thing';
import { things, type ThingName } from '../../core/things/things';
import { mediaTypes, type TableFormat } from '../../deliver/table';
import type { Store } from '../../store/base/database';
import { readOwnFields } from '../../store/ownFields';
import { invalid } from '../access/problem';
import { momentsAsked } from './momentsAsked';
import { tableAnswers } from './thread/tableAnswers';
import { scriptRow } from './scriptFields';
import type { ThingQuery } from './query';

/** A filter may be as long as an address holds. */
export const longestFilter = 16_000;
export const largestPage = 1000;

/** What is asked of a table, as it stands in the address. */
export interface TableAsked {
  survey?: string | undefined;
  against?: string | undefined;
  where: string;
  columns?: string | undefined;
  sort: string;
  first?: number | undefined;
  page: number;
  size: number;
  count?: string | undefined;
  group?: string | undefined;
  format?: TableFormat | undefined;
  headings?: 'names' | 'shown' | undefined;
}

/** A page of a table, or all its rows as a file. @throws Problem, FilterError, SortError, GroupError */
export async function answerTable(store: Store, name: ThingName, asked: TableAsked): Promise<Response> {
  const { survey, against } = momentsAsked(store, asked);
  const columns = columnsOf(store, name, asked.columns);
  const count = columnsOf(store, name, asked.count);
  const { format, first } = asked;
  const wanted = {
    survey,
    against,
    where: asked.where,
    sort: sortOf(asked),
    ...(first !== undefined && { first }),
  };
  if (format) {
    const parts = tableAnswers(store).export({
      thing: name,
      wanted,
      format,
      columns,
      asShown: asked.headings === 'shown',
    });
    // a mistake in the filter is told before anything is sent
    const begun = await parts.next();
    return new Response(streamOf(begun, parts), {
      headers: {
        'content-type': mediaTypes[format],
        'content-disposition': `attachment; filename="bolide-${name}-survey-${survey}.${format}"`,
        'cache-control': 'no-store',
      },
    });
  }
  const query: ThingQuery = {
    ...wanted,
    page: asked.page,
    size: asked.size,
    ...(count && { count }),
    ...(asked.group && { group: asked.group.split(',').map((field) => field.trim()) }),
  };
  const answer = await tableAnswers(store).ask('query', name, query);
  return Response.json(
    {
      ...answer,
      rows: columns
        ? answer.rows.map((row) => ({ id: row.id, ...scriptRow(name, row, columns) }))
        : answer.rows.map((row) => ({ ...row, ...scriptRow(name, row) })),
    },
    { headers: { 'cache-control': 'no-store' } },
  );
}

/** A file of groups is in their order, and within them in that which was asked for. */
function sortOf({ sort, group, format }: TableAsked): string[] {
  const parts = sort.split(',').filter(Boolean);
  const groups = format ? (group ?? '').split(',').map((field) => field.trim()) : [];
  return [...groups.filter(Boolean), ...parts];
}

/** Parts as they are made: the next one only when the last was taken. */
function streamOf(
  first: IteratorResult<string | Uint8Array>,
  parts: AsyncGenerator<string | Uint8Array>,
): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  let begun = false;
  return new ReadableStream({
    async pull(controller) {
      const { value, done } = begun ? await parts.next() : first;
      begun = true;
      if (done) controller.close();
      else controller.enqueue(typeof value === 'string' ? encoder.encode(value) : new Uint8Array(value));
    },
    async cancel() {
      await parts.return(undefined);
    },
  });
}

function columnsOf(store: Store, name: ThingName, text: string | undefined): string[] | undefined {
  if (!text) return undefined;
  const columns = text.split(',').map((column) => column.trim());
  const fields = new Set([
    ...things[name].script,
    ...Object.keys((things[name] as Thing).formerly ?? {}),
    ...withOwnFields(name, readOwnFields(store.db)).map((field) => field.name),
  ]);
  const unknown = columns.filter((column) => !fields.has(column));
  if (unknown.length > 0)
    throw invalid(unknown.map((column) => ({ path: 'columns', message: `There is no field “${column}”` })));
  return columns;
}

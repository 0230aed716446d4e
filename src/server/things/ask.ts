import type { FilterError } from '../../core/filter/syntax';
import { withOwnFields } from '../../core/own/ownField';
import { thingNames, type ThingName } from '../../core/things/fields';
import { mediaTypes, tableFormats, type TableFormat } from '../../deliver/table';
import type { Store } from '../../store/database';
import { readOwnFields } from '../../store/ownFields';
import { invalid, notFound, Problem } from '../access/problem';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { contractFields, contractRow } from './contract';
import { surveyNumber } from './moment';
import type { ThingQuery } from './query';

const known = new Set([
  'survey',
  'against',
  'where',
  'columns',
  'sort',
  'page',
  'size',
  'format',
  'count',
  'group',
  'first',
]);
const largestPage = 1000;

/** `GET /THING?survey&against&where&columns&sort&page&size`: reads the request, asks, answers in the wanted format. */
export async function answerThing(store: Store, thing: string, parameters: URLSearchParams): Promise<Response> {
  const name = thingNamed(thing);
  for (const parameter of parameters.keys())
    if (!known.has(parameter))
      throw invalid([{ path: parameter, message: `is no parameter: known are ${[...known].join(', ')}` }]);
  const { survey, against } = momentsOf(store, parameters);
  const columns = columnsOf(store, name, parameters.get('columns'));
  const count = columnsOf(store, name, parameters.get('count'));
  const format = parameters.get('format');
  if (format !== null && !tableFormats.includes(format as TableFormat))
    throw invalid([{ path: 'format', message: `use ${tableFormats.join(', ')}` }]);
  const wanted = {
    survey,
    against,
    where: parameters.get('where') ?? '',
    sort: (parameters.get('sort') ?? '').split(',').filter(Boolean),
    ...(parameters.has('first') && { first: whole('first', parameters, 1, 1, 1e9) }),
  };
  if (format) {
    const parts = tableAnswers(store).export({ thing: name, wanted, format: format as TableFormat, columns });
    // a mistake in the filter is told before anything is sent
    const first = await withPlace(() => parts.next());
    return new Response(streamOf(first, parts), {
      headers: {
        'content-type': mediaTypes[format as TableFormat],
        'content-disposition': `attachment; filename="bolide-${name}-survey-${survey}.${format}"`,
        'cache-control': 'no-store',
      },
    });
  }
  const query: ThingQuery = {
    ...wanted,
    page: whole('page', parameters, 1, 1, 1e9),
    size: whole('size', parameters, 100, 1, largestPage),
    ...(count && { count }),
    ...(parameters.get('group') && { group: (parameters.get('group') ?? '').split(',').map((field) => field.trim()) }),
  };
  const answer = await withPlace(() => tableAnswers(store).ask('query', name, query));
  return Response.json(
    {
      ...answer,
      rows: columns
        ? answer.rows.map((row) => ({ id: row.id, ...contractRow(name, row, columns) }))
        : answer.rows.map((row) => ({ ...row, ...contractRow(name, row) })),
    },
    { headers: { 'cache-control': 'no-store' } },
  );
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

export function thingNamed(thing: string): ThingName {
  if (!thingNames.includes(thing as ThingName)) throw notFound(`thing “${thing}”: use ${thingNames.join(', ')}`);
  return thing as ThingName;
}

export function momentsOf(store: Store, parameters: URLSearchParams): { survey: number; against: number | null } {
  const survey = surveyNumber(store.db, parameters.get('survey'));
  if (survey === null)
    throw invalid([{ path: 'survey', message: `There is no sealed survey “${parameters.get('survey') ?? ''}”` }]);
  const wanted = parameters.get('against');
  const against = wanted ? surveyNumber(store.db, wanted) : null;
  if (wanted && against === null)
    throw invalid([{ path: 'against', message: `There is no sealed survey “${wanted}”` }]);
  return { survey, against };
}

function columnsOf(store: Store, name: ThingName, text: string | null): string[] | undefined {
  if (!text) return undefined;
  const columns = text.split(',').map((column) => column.trim());
  const fields = new Set([
    ...contractFields[name],
    ...withOwnFields(name, readOwnFields(store.db)).map((field) => field.name),
  ]);
  const unknown = columns.filter((column) => !fields.has(column));
  if (unknown.length > 0)
    throw invalid(unknown.map((column) => ({ path: 'columns', message: `There is no field “${column}”` })));
  return columns;
}

/** Mistakes in a request, told at the parameter they are in. */
export async function withPlace<Answer>(work: () => Promise<Answer>): Promise<Answer> {
  try {
    return await work();
  } catch (error) {
    // by its name: what answers may have been loaded apart from what asks, with classes of its own
    const { name, message } = error as Error;
    switch (name) {
      case 'FilterError': {
        const { at, expected } = error as FilterError;
        throw new Problem(422, 'Filter mistake', `${message}; expected ${expected}`, [
          { path: 'where', message, at, expected },
        ]);
      }
      case 'TooManyRowsError':
        throw invalid([{ path: 'where', message }]);
      case 'GroupError':
        throw invalid([{ path: 'group', message }]);
      case 'SortError':
        throw invalid([{ path: 'sort', message }]);
    }
    throw error;
  }
}

function whole(name: string, parameters: URLSearchParams, fallback: number, low: number, high: number): number {
  const text = parameters.get(name);
  if (text === null) return fallback;
  const value = Number(text);
  if (!/^\d+$/.test(text) || value < low || value > high)
    throw invalid([{ path: name, message: `must be a whole number from ${low} to ${high}` }]);
  return value;
}

/** The VLAN of `?vlan=`; null where none is asked for. @throws Problem for what is none */
export function vlanAsked(url: URL): number | null {
  const asked = url.searchParams.get('vlan');
  if (asked === null) return null;
  const vlan = Number(asked);
  if (!Number.isInteger(vlan) || vlan < 1 || vlan > 4094)
    throw invalid([{ path: 'vlan', message: 'must be a VLAN from 1 to 4094' }]);
  return vlan;
}

import * as yup from 'yup';
import { FilterError } from '../../core/filter/syntax';
import { examineGroup, groupedThings, GroupMistake, type EstateGroup } from '../../core/groups/group';
import type { Store } from '../../store/database';
import { readGroups, saveGroup } from '../../store/groups';
import { recordAct } from '../../store/people';
import { line } from '../access/line';
import { invalid, notFound, Problem } from '../access/problem';
import { route } from '../access/route';
import { withPlace } from '../things/ask';
import { surveyNumber } from '../things/moment';
import { tableAnswers } from '../tables/thread/tableAnswers';

export const groupSchema = yup
  .object({
    name: line('The name')
      .required('Give the group a name')
      .max(60)
      .matches(/^[^"]*$/, 'A name has no quotation marks'),
    thing: yup
      .string()
      .oneOf(groupedThings, ({ value }) => `“${String(value)}” cannot be grouped: use ${groupedThings.join(', ')}`)
      .required(),
    kind: yup
      .string()
      .oneOf(['fixed', 'filter'] as const, 'must be fixed or filter')
      .required(),
    where: yup.string().max(4000),
    members: yup.array(yup.string().required()).max(50_000),
    within: yup.string().nullable(),
    note: yup.string().max(500),
  })
  .noUnknown();

/** A group as it is kept, what was left out being empty. */
export const groupOf = ({
  name,
  thing,
  kind,
  where = '',
  members = [],
  within,
  note = '',
}: yup.InferType<typeof groupSchema>): EstateGroup => ({
  name,
  thing: thing as EstateGroup['thing'],
  kind: kind as EstateGroup['kind'],
  where: where.trim(),
  members,
  within: within || null,
  note: note.trim(),
});

/** Groups with how many rows each has at a survey. */
export const GET = route('viewer', null, async ({ store, url }) => {
  const survey = surveyNumber(store.db, url.searchParams.get('survey'));
  if (survey === null) throw invalid([{ path: 'survey', message: 'There is no such sealed survey' }]);
  const counted = new Map((await tableAnswers(store).ask('groupMembers', survey)).map((row) => [row.id, row]));
  const rows = readGroups(store.db).map(({ members, ...group }) => ({
    ...group,
    named: members.length,
    rows: counted.get(group.id)?.rows ?? 0,
    mistake: counted.get(group.id)?.mistake ?? null,
  }));
  return { rows, total: rows.length };
});

export const POST = route(
  'operator',
  groupSchema,
  async ({ store, person, body }) => {
    const group = groupOf(body);
    await examined(store, group, null);
    const id = saveGroup(store.db, group, null);
    recordAct(store.db, person.name, 'made a group', group.name);
    return { id };
  },
  { largest: 2 * 1024 * 1024 },
);

/** Whether a group may be as it is written; its filter is asked once, so that a mistake in it is told at its place. */
export async function examined(store: Store, group: EstateGroup, id: number | null): Promise<void> {
  const others = readGroups(store.db).filter((other) => other.id !== id);
  if (id !== null && !readGroups(store.db).some((other) => other.id === id)) throw notFound(`group ${id}`);
  if (others.some(({ name }) => name.toLowerCase() === group.name.toLowerCase()))
    throw invalid([{ path: 'name', message: `There is a group “${group.name}” already` }]);
  if (group.kind === 'filter' && group.where === '')
    throw invalid([{ path: 'where', message: 'A group by filter needs a filter' }]);
  try {
    // what named it by its old name is no reason to refuse a new one: it is told there
    examineGroup(group, [...others, group]);
  } catch (error) {
    if (error instanceof GroupMistake) throw invalid([{ path: error.path, message: error.message }]);
    if (error instanceof FilterError)
      throw new Problem(422, 'Filter mistake', `${error.message}; expected ${error.expected}`, [
        { path: 'where', message: error.message, at: error.at, expected: error.expected },
      ]);
    throw error;
  }
  const survey = surveyNumber(store.db, 'latest') ?? 0;
  if (group.kind === 'filter')
    await withPlace(() =>
      tableAnswers(store).ask('query', group.thing, {
        survey,
        against: null,
        where: group.where,
        sort: [],
        page: 1,
        size: 1,
      }),
    );
}

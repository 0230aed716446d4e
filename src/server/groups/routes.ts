import * as yup from 'yup';
import {
  asksForMaintenance,
  examineGroup,
  groupedThings,
  groupsLeaningOn,
  GroupMistake,
  type EstateGroup,
} from '../../core/groups/group';
import { maintenanceState } from '../../core/groups/maintenance';
import { inTransaction, type Db, type Store } from '../../store/base/database';
import { groupFilterMistake } from '../../store/deviceFilter';
import {
  addMaintenance,
  deleteGroup,
  endMaintenance,
  readGroups,
  readMaintenance,
  saveGroup,
  type KeptGroup,
} from '../../store/groups';
import { recordAct } from '../../store/audit';
import { listScopes } from '../../store/scopes';
import { readTargets } from '../../store/targets';
import { line } from '../access/line';
import { invalid, notFound, Problem } from '../access/problem';
import { atSurvey } from '../api/parameters';
import { megabytes, route } from '../api/route';
import { newestSurvey, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const largest = megabytes(2);
const mostMembers = 50_000;
const ungrouped = ({ value }: { value?: unknown }) =>
  `“${String(value)}” cannot be grouped: use ${groupedThings.join(', ')}`;
const ids = () => yup.array(yup.string().required()).max(mostMembers);
const groupSchema = yup
  .object({
    name: line('The name')
      .required('Give the group a name')
      .max(60)
      .matches(/^[^"]*$/, 'A name has no quotation marks'),
    thing: yup.string().oneOf(groupedThings, ungrouped).required(),
    kind: yup
      .string()
      .oneOf(['fixed', 'filter'] as const, 'must be fixed or filter')
      .required(),
    where: yup.string().max(4000),
    members: ids(),
    within: yup.string().nullable(),
    note: yup.string().max(500),
  })
  .noUnknown();
const memberSchema = yup.object({ add: ids(), remove: ids() }).noUnknown();

const momentForm = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}.*(Z|[+-]\d{2}:\d{2})$/;
const isMoment = (text?: string | null) =>
  text === undefined || text === null || (momentForm.test(text) && !Number.isNaN(Date.parse(text)));
const moment = (what: string) =>
  yup.string().test('moment', `${what} must be a moment like 2026-11-28T22:00:00Z`, isMoment);
const maintenanceSchema = yup
  .object({
    where: yup.string().required('Say which devices, as a filter').max(4000),
    reason: line('What is done').required('Say what is done').max(200),
    from: moment('The start').required('Say when it begins'),
    until: moment('The end').nullable(),
  })
  .noUnknown();

/** Groups of devices and ports, and times at which somebody works on them. */
export const groupRoutes = [
  route({
    method: 'GET',
    path: '/groups',
    role: 'viewer',
    summary: 'Groups with how many rows each has at a survey',
    query: yup.object(atSurvey),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      const counted = new Map((await tableAnswers(store).ask('groupMembers', survey)).map((row) => [row.id, row]));
      const rows = readGroups(store.db).map(({ members, ...group }) => ({
        ...group,
        named: members.length,
        rows: counted.get(group.id)?.rows ?? 0,
        mistake: counted.get(group.id)?.mistake ?? null,
      }));
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/groups',
    role: 'operator',
    summary: 'Make a group',
    body: groupSchema,
    largest,
    run: async ({ store, person, body }) => {
      const group = groupOf(body);
      await examine(store, group, null);
      const id = saveGroup(store.db, group, null);
      recordAct(store.db, person.name, 'made a group', group.name);
      return { id };
    },
  }),
  route({
    method: 'GET',
    path: '/groups/{id}',
    role: 'viewer',
    summary: 'A group with its members',
    run: ({ store, params }) => groupNumbered(store.db, params.id),
  }),
  route({
    method: 'PUT',
    path: '/groups/{id}',
    role: 'operator',
    summary: 'Change a group; what names it follows it',
    body: groupSchema,
    largest,
    run: async ({ store, person, params, body }) => {
      const group = groupOf(body);
      const id = Number(params.id);
      await examine(store, group, id);
      refuseRenaming(store.db, id, group.name);
      inTransaction(store.db, () => {
        const broken = new Set(brokenGroupsInUse(store.db));
        saveGroup(store.db, group, id);
        const breaks = brokenGroupsInUse(store.db).find((name) => !broken.has(name));
        if (breaks !== undefined) {
          const why = groupFilterMistake(store.db, breaks) ?? '';
          throw new Problem(409, 'Still needed', `A target or a scope is for “${breaks}”. ${why}.`);
        }
      });
      recordAct(store.db, person.name, 'changed a group', group.name);
      return { id };
    },
  }),
  route({
    method: 'PATCH',
    path: '/groups/{id}',
    role: 'operator',
    summary: 'Put rows into a fixed group, or take them out',
    body: memberSchema,
    largest,
    run: ({ store, person, params, body: { add = [], remove = [] } }) => {
      const group = groupNumbered(store.db, params.id);
      if (group.kind !== 'fixed') {
        throw new Problem(409, 'Not by name', `“${group.name}” is made by its filter: change that.`);
      }
      const gone = new Set(remove);
      const members = [...new Set([...group.members.filter((id) => !gone.has(id)), ...add])];
      saveGroup(store.db, { ...group, members }, group.id);
      recordAct(store.db, person.name, 'changed the members of a group', group.name);
      return { id: group.id, members: members.length };
    },
  }),
  route({
    method: 'DELETE',
    path: '/groups/{id}',
    role: 'operator',
    summary: 'Delete a group; refused while another, a target or a scope is built on it',
    run: ({ store, person, params }) => {
      const group = groupNumbered(store.db, params.id);
      refuseDeleting(store.db, group);
      deleteGroup(store.db, group.id);
      recordAct(store.db, person.name, 'deleted a group', group.name);
      const { id, ...was } = group;
      return { id, was };
    },
  }),
  route({
    method: 'GET',
    path: '/maintenance',
    role: 'viewer',
    summary: 'Times of maintenance, newest first',
    run: ({ store }) => {
      const now = new Date().toISOString();
      const rows = readMaintenance(store.db)
        .map((row) => ({ ...row, state: maintenanceState(row, now) }))
        .reverse();
      return { rows, total: rows.length };
    },
  }),
  route({
    method: 'POST',
    path: '/maintenance',
    role: 'operator',
    summary: 'Set maintenance of the devices a filter holds',
    body: maintenanceSchema,
    run: async ({ store, person, body: { where: written, reason, from, until = null } }) => {
      const where = written.trim();
      if (until !== null && Date.parse(until) <= Date.parse(from)) {
        throw invalid([{ path: 'until', message: 'It ends before it begins' }]);
      }
      const devices = await rowsOf(store, 'devices', where);
      if (asksForMaintenance(where)) {
        throw invalid([{ path: 'where', message: 'Maintenance cannot depend on maintenance' }]);
      }
      const id = addMaintenance(store.db, {
        where,
        reason,
        from: new Date(from).toISOString(),
        until: until === null ? null : new Date(until).toISOString(),
        by: person.name,
      });
      recordAct(store.db, person.name, 'set maintenance', `${where}: ${reason}`);
      return { id, devices };
    },
  }),
  route({
    method: 'POST',
    path: '/maintenance/{id}/end',
    role: 'operator',
    summary: 'End maintenance now; what was only planned never was',
    run: ({ store, person, params }) => {
      const was = endMaintenance(store.db, Number(params.id));
      if (!was) throw new Problem(409, 'Nothing to end', 'There is no such maintenance, or it is over.');
      recordAct(store.db, person.name, 'ended maintenance', `${was.where}: ${was.reason}`);
      return { was };
    },
  }),
];

/** A group as it is kept, what was left out being empty. */
function groupOf(given: yup.InferType<typeof groupSchema>): EstateGroup {
  const { name, thing, kind, where = '', members = [], within, note = '' } = given;
  return {
    name,
    thing: thing as EstateGroup['thing'],
    kind: kind as EstateGroup['kind'],
    where: where.trim(),
    members,
    within: within || null,
    note: note.trim(),
  };
}

function groupNumbered(db: Db, id: string): KeptGroup {
  const group = readGroups(db).find((one) => one.id === Number(id));
  if (!group) throw notFound(`group ${id}`);
  return group;
}

/** How many rows a filter holds at the newest survey. @throws FilterError */
async function rowsOf(store: Store, thing: EstateGroup['thing'], where: string): Promise<number> {
  const survey = newestSurvey(store);
  const page = { survey, against: null, where, sort: [], page: 1, size: 1 };
  return (await tableAnswers(store).ask('query', thing, page)).total;
}

/** Whether a group may be as it is written; its filter is asked once, so that a mistake in it is told at its place. @throws Problem, FilterError */
async function examine(store: Store, group: EstateGroup, id: number | null): Promise<void> {
  const groups = readGroups(store.db);
  const others = groups.filter((other) => other.id !== id);
  if (id !== null && others.length === groups.length) throw notFound(`group ${id}`);
  if (others.some(({ name }) => name.toLowerCase() === group.name.toLowerCase())) {
    throw invalid([{ path: 'name', message: `There is a group “${group.name}” already` }]);
  }
  if (group.kind === 'filter' && group.where === '') {
    throw invalid([{ path: 'where', message: 'A group by filter needs a filter' }]);
  }
  try {
    // what named it by its old name is no reason to refuse a new one: it is told there
    examineGroup(group, [...others, group]);
  } catch (error) {
    if (error instanceof GroupMistake) throw invalid([{ path: error.path, message: error.message }]);
    throw error;
  }
  if (group.kind === 'filter') await rowsOf(store, group.thing, group.where);
}

/** A group that a filter of another names is called as it is until that filter says otherwise. */
function refuseRenaming(db: Db, id: number, name: string): void {
  const groups = readGroups(db);
  const before = groups.find((group) => group.id === id);
  if (!before || before.name === name) return;
  const lyingIn = new Set(groups.filter(({ within }) => within === before.name).map((group) => group.name));
  const leaning = groupsLeaningOn(before, groups).filter((other) => !lyingIn.has(other));
  if (leaning.length === 0) return;
  const words = `named by the filter of ${leaning.join(', ')}`;
  throw new Problem(409, 'Still named', `“${before.name}” is ${words}: change that first.`, [
    { path: 'name', message: words },
  ]);
}

function refuseDeleting(db: Db, group: KeptGroup): void {
  const refuse = (why: string) => new Problem(409, 'Still needed', `“${group.name}” cannot go: ${why}.`);
  const leaning = groupsLeaningOn(group, readGroups(db));
  if (leaning.length > 0) throw refuse(`${leaning.join(', ')} ${leaning.length === 1 ? 'is' : 'are'} built on it`);
  const targeted = readTargets(db)
    .filter((target) => target.group === group.name)
    .map(({ family, release }) => `${family} ${release}`);
  if (targeted.length > 0) throw refuse(`targets are set for it (${targeted.join(', ')})`);
  const scoped = listScopes(db)
    .filter(({ scope }) => scope.group === group.name)
    .map(({ scope }) => scope.name);
  if (scoped.length > 0) throw refuse(`it is what the scope ${scoped.join(', ')} asks`);
}

/** Groups that targets or scopes are for, and whose filter cannot be told without asking. */
function brokenGroupsInUse(db: Db): string[] {
  const used = [...readTargets(db).map(({ group }) => group), ...listScopes(db).map(({ scope }) => scope.group ?? '')];
  return [...new Set(used)].filter((name) => name !== '' && groupFilterMistake(db, name) !== null);
}

import * as yup from 'yup';
import { asksForMaintenance, examineGroup, GroupMistake, type EstateGroup } from '../../core/groups/group';
import { groupSchema, rowIds } from '../../core/groups/groupSchema';
import { maintenanceSchema } from '../../core/groups/maintenanceSchema';
import { maintenanceState } from '../../core/groups/maintenance';
import type { Db, Store } from '../../store/base/database';
import { groupEdits } from '../../store/edits/groups';
import { editVersion } from '../../store/edits/log';
import { maintenanceEdits } from '../../store/edits/maintenance';
import { readGroups, type KeptGroup } from '../../store/groups';
import { readMaintenance } from '../../store/maintenance';
import { invalid, notFound, Problem } from '../access/problem';
import { atSurvey } from '../api/parameters';
import { megabytes, route } from '../api/route';
import { written } from '../edits/written';
import { newestSurvey, surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const largest = megabytes(2);
const memberSchema = yup.object({ add: rowIds(), remove: rowIds() }).noUnknown();

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
      const version = editVersion(store.db);
      const counted = new Map((await tableAnswers(store).ask('groupMembers', survey)).map((row) => [row.id, row]));
      const rows = readGroups(store.db).map(({ members, ...group }) => ({
        ...group,
        named: members.length,
        rows: counted.get(group.id)?.rows ?? 0,
        mistake: counted.get(group.id)?.mistake ?? null,
      }));
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'POST',
    path: '/groups',
    beside: true,
    role: 'operator',
    summary: 'Make a group',
    body: groupSchema,
    largest,
    versioned: true,
    run: async (call) => {
      const after = groupOf(call.body);
      await examine(call.store, after, null);
      const changes = [{ key: null, before: null, after }];
      const { key, ...edit } = written(call, groupEdits, { act: 'made a group', words: after.name, changes });
      return { id: Number(key), ...edit };
    },
  }),
  route({
    method: 'GET',
    path: '/groups/{id}',
    role: 'viewer',
    summary: 'A group with its members',
    run: ({ store, params }) => ({ version: editVersion(store.db), ...groupNumbered(store.db, params.id) }),
  }),
  route({
    method: 'PUT',
    path: '/groups/{id}',
    beside: true,
    role: 'operator',
    summary: 'Change a group; what names it follows it',
    body: groupSchema,
    largest,
    versioned: true,
    run: async (call) => {
      const after = groupOf(call.body);
      const id = Number(call.params.id);
      await examine(call.store, after, id);
      const { id: _id, ...before } = groupNumbered(call.store.db, call.params.id);
      const changes = [{ key: String(id), before, after }];
      const { edit, version } = written(call, groupEdits, { act: 'changed a group', words: after.name, changes });
      return { id, edit, version };
    },
  }),
  route({
    method: 'PATCH',
    path: '/groups/{id}',
    beside: true,
    role: 'operator',
    summary: 'Put rows into a fixed group, or take them out',
    body: memberSchema,
    largest,
    run: (call) => {
      const { add = [], remove = [] } = call.body;
      const { id, ...before } = groupNumbered(call.store.db, call.params.id);
      if (before.kind !== 'fixed') {
        throw new Problem(409, 'Not by name', `“${before.name}” is made by its filter: change that.`);
      }
      const gone = new Set(remove);
      const members = [...new Set([...before.members.filter((one) => !gone.has(one)), ...add])];
      const act = 'changed the members of a group';
      const changes = [{ key: String(id), before, after: { ...before, members } }];
      const { edit, version } = written(call, groupEdits, { act, words: before.name, changes });
      return { id, members: members.length, edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/groups/{id}',
    beside: true,
    role: 'operator',
    summary: 'Delete a group; refused while another, a target or a scope is built on it',
    versioned: true,
    run: (call) => {
      const { id, ...before } = groupNumbered(call.store.db, call.params.id);
      const changes = [{ key: String(id), before, after: null }];
      const { edit, version } = written(call, groupEdits, { act: 'deleted a group', words: before.name, changes });
      return { id, edit, version };
    },
  }),
  route({
    method: 'GET',
    path: '/maintenance',
    role: 'viewer',
    summary: 'Times of maintenance, newest first',
    run: ({ store }) => {
      const now = new Date().toISOString();
      const version = editVersion(store.db);
      const rows = readMaintenance(store.db)
        .map((row) => ({ ...row, state: maintenanceState(row, now) }))
        .reverse();
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'POST',
    path: '/maintenance',
    role: 'operator',
    summary: 'Set maintenance of the devices a filter holds',
    body: maintenanceSchema,
    versioned: true,
    run: async (call) => {
      const { reason, from, until = null } = call.body;
      const where = call.body.where.trim();
      if (until !== null && Date.parse(until) <= Date.parse(from)) {
        throw invalid([{ path: 'until', message: 'It ends before it begins' }]);
      }
      const devices = await rowsOf(call.store, 'devices', where);
      if (asksForMaintenance(where)) {
        throw invalid([{ path: 'where', message: 'Maintenance cannot depend on maintenance' }]);
      }
      const after = {
        where,
        reason,
        from: new Date(from).toISOString(),
        until: until === null ? null : new Date(until).toISOString(),
        by: call.person.name,
      };
      const changes = [{ key: null, before: null, after }];
      const words = `${where}: ${reason}`;
      const { key, ...edit } = written(call, maintenanceEdits, { act: 'set maintenance', words, changes });
      return { id: Number(key), devices, ...edit };
    },
  }),
  route({
    method: 'POST',
    path: '/maintenance/{id}/end',
    role: 'operator',
    summary: 'End maintenance now; what was only planned never was',
    versioned: true,
    run: (call) => {
      const now = new Date().toISOString();
      const known = readMaintenance(call.store.db).find(({ id }) => id === Number(call.params.id));
      const state = known && maintenanceState(known, now);
      if (!known || state === 'over') {
        throw new Problem(409, 'Nothing to end', 'There is no such maintenance, or it is over.');
      }
      const { id, ...before } = known;
      const after = state === 'planned' ? null : { ...before, until: now };
      const words = `${before.where}: ${before.reason}`;
      const changes = [{ key: String(id), before, after }];
      const { edit, version } = written(call, maintenanceEdits, { act: 'ended maintenance', words, changes });
      return { edit, version };
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

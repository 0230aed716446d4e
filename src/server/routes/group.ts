import * as yup from 'yup';
import { groupsLeaningOn } from '../../core/groups/group';
import { inTransaction } from '../../store/database';
import { groupFilterMistake } from '../../store/deviceFilter';
import { deleteGroup, readGroups, saveGroup } from '../../store/groups';
import { recordAct } from '../../store/people';
import { listScopes, readTargets } from '../../store/settings';
import { notFound, Problem } from '../access/problem';
import { route } from '../access/route';
import { examined, groupOf, groupSchema } from './groups';

export const GET = route('viewer', null, ({ store, params }) => {
  const group = readGroups(store.db).find(({ id }) => id === Number(params.id));
  if (!group) throw notFound(`group ${params.id ?? ''}`);
  return group;
});

export const PUT = route(
  'operator',
  groupSchema,
  async ({ store, person, params, body }) => {
    const group = groupOf(body);
    const id = Number(params.id);
    await examined(store, group, id);
    const before = readGroups(store.db).find((other) => other.id === id);
    const leaning =
      before && before.name !== group.name
        ? groupsLeaningOn(before, readGroups(store.db)).filter(
            (name) => readGroups(store.db).find((other) => other.name === name)?.within !== before.name,
          )
        : [];
    if (leaning.length > 0)
      throw new Problem(
        409,
        'Still named',
        `“${before?.name ?? ''}” is named by the filter of ${leaning.join(', ')}: change that first.`,
        [{ path: 'name', message: `named by the filter of ${leaning.join(', ')}` }],
      );
    inTransaction(store.db, () => {
      const used = () =>
        [
          ...new Set([
            ...readTargets(store.db).map((target) => target.group),
            ...listScopes(store.db).map(({ scope }) => scope.group ?? ''),
          ]),
        ].filter((name) => name !== '' && groupFilterMistake(store.db, name) !== null);
      const broken = new Set(used());
      saveGroup(store.db, group, id);
      const breaks = used().find((name) => !broken.has(name));
      if (breaks !== undefined)
        throw new Problem(
          409,
          'Still needed',
          `A target or a scope is for “${breaks}”. ${groupFilterMistake(store.db, breaks) ?? ''}.`,
        );
    });
    recordAct(store.db, person.name, 'changed a group', group.name);
    return { id };
  },
  { largest: 2 * 1024 * 1024 },
);

const memberSchema = yup
  .object({
    add: yup.array(yup.string().required()).max(50_000),
    remove: yup.array(yup.string().required()).max(50_000),
  })
  .noUnknown();

/** Puts rows into a fixed group, or takes them out. */
export const PATCH = route(
  'operator',
  memberSchema,
  ({ store, person, params, body: { add = [], remove = [] } }) => {
    const group = readGroups(store.db).find(({ id }) => id === Number(params.id));
    if (!group) throw notFound(`group ${params.id ?? ''}`);
    if (group.kind !== 'fixed')
      throw new Problem(409, 'Not by name', `“${group.name}” is made by its filter: change that.`);
    const gone = new Set(remove);
    const members = [...new Set([...group.members.filter((id) => !gone.has(id)), ...add])];
    saveGroup(store.db, { ...group, members }, group.id);
    recordAct(store.db, person.name, 'changed the members of a group', group.name);
    return { id: group.id, members: members.length };
  },
  { largest: 2 * 1024 * 1024 },
);

export const DELETE = route('operator', null, ({ store, person, params }) => {
  const group = readGroups(store.db).find(({ id }) => id === Number(params.id));
  if (!group) throw notFound(`group ${params.id ?? ''}`);
  const leaning = groupsLeaningOn(group, readGroups(store.db));
  if (leaning.length > 0)
    throw new Problem(
      409,
      'Still needed',
      `“${group.name}” cannot go: ${leaning.join(', ')} ${leaning.length === 1 ? 'is' : 'are'} built on it.`,
    );
  const targeted = readTargets(store.db)
    .filter((target) => target.group === group.name)
    .map(({ family, release }) => `${family} ${release}`);
  if (targeted.length > 0)
    throw new Problem(
      409,
      'Still needed',
      `“${group.name}” cannot go: targets are set for it (${targeted.join(', ')}).`,
    );
  const scoped = listScopes(store.db)
    .filter(({ scope }) => scope.group === group.name)
    .map(({ scope }) => scope.name);
  if (scoped.length > 0)
    throw new Problem(
      409,
      'Still needed',
      `“${group.name}” cannot go: it is what the scope ${scoped.join(', ')} asks.`,
    );
  deleteGroup(store.db, group.id);
  recordAct(store.db, person.name, 'deleted a group', group.name);
  const { id, ...was } = group;
  return { id, was };
});

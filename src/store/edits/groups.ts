import { and, eq, ne, sql } from 'drizzle-orm';
import { groupsLeaningOn, type EstateGroup } from '../../core/groups/group';
import type { Db } from '../base/database';
import { estateGroup, scope } from '../base/schema';
import { groupFilterMistake } from '../deviceFilter';
import { readGroups, type KeptGroup } from '../groups';
import { listScopes } from '../scopes';
import { deleteTarget, readAllTargets, saveTarget } from '../targets';
import { EditRefused, numberOf, oneByOne, type Editable } from './editable';

const withId = (key: string) => eq(estateGroup.id, numberOf(key));

/** Groups, as the log of edits sees them. Groups that lie in one that is called anew, and targets and scopes for it, follow it. */
export const groupEdits: Editable<EstateGroup> = {
  kind: 'groups',
  one: 'group',
  many: 'groups',
  role: 'operator',
  called: ({ name }) => name,
  read: (db, key) => {
    const row = db.select().from(estateGroup).where(withId(key)).get();
    if (!row) return null;
    const { id: _id, ...group } = row;
    return group;
  },
  write: oneByOne((db, key, after, before) => {
    if (after === null) {
      const known = readGroups(db).find(({ id }) => id === numberOf(key ?? ''));
      if (known) refuseDeleting(db, known);
      db.delete(estateGroup)
        .where(withId(key ?? ''))
        .run();
      return key ?? '';
    }
    const named = sql`lower(${estateGroup.name}) = lower(${after.name})`;
    if (
      db
        .select({ id: estateGroup.id })
        .from(estateGroup)
        .where(and(named, ne(estateGroup.id, numberOf(key ?? ''))))
        .get()
    ) {
      throw new EditRefused(`There is a group “${after.name}” already`, key, 'name');
    }
    if (before === null) {
      const row = { ...(key !== null && { id: numberOf(key) }), ...after };
      return String(db.insert(estateGroup).values(row).returning({ id: estateGroup.id }).get().id);
    }
    const id = numberOf(key ?? '');
    refuseRenaming(db, id, after.name);
    const broken = new Set(brokenGroupsInUse(db));
    if (before.name !== after.name) followName(db, before.name, after.name);
    db.update(estateGroup)
      .set(after)
      .where(withId(key ?? ''))
      .run();
    const breaks = brokenGroupsInUse(db).find((name) => !broken.has(name));
    if (breaks !== undefined) {
      const why = groupFilterMistake(db, breaks) ?? '';
      throw new EditRefused(`A target or a scope is for “${breaks}”. ${why}.`, key, '', 'Still needed');
    }
    return key ?? '';
  }),
};

function followName(db: Db, before: string, after: string): void {
  db.update(estateGroup).set({ within: after }).where(eq(estateGroup.within, before)).run();
  for (const target of readAllTargets(db).filter(({ group }) => group === before)) {
    deleteTarget(db, target);
    saveTarget(db, { ...target, group: after });
  }
  for (const { id, body } of db.select().from(scope).all()) {
    if ((body as { group?: string }).group !== before) continue;
    db.update(scope)
      .set({ body: { ...(body as object), group: after } })
      .where(eq(scope.id, id))
      .run();
  }
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
  throw new EditRefused(`“${before.name}” is ${words}: change that first`, String(id), 'name', 'Still named');
}

function refuseDeleting(db: Db, group: KeptGroup): void {
  const refuse = (why: string) =>
    new EditRefused(`“${group.name}” cannot go: ${why}.`, String(group.id), '', 'Still needed');
  const leaning = groupsLeaningOn(group, readGroups(db));
  if (leaning.length > 0) throw refuse(`${leaning.join(', ')} ${leaning.length === 1 ? 'is' : 'are'} built on it`);
  const targeted = readAllTargets(db)
    .filter((one) => one.group === group.name)
    .map(({ family, release }) => `${family} ${release}`);
  if (targeted.length > 0) throw refuse(`targets are set for it (${targeted.join(', ')})`);
  const scoped = listScopes(db)
    .filter((one) => one.scope.group === group.name)
    .map((one) => one.scope.name);
  if (scoped.length > 0) throw refuse(`it is what the scope ${scoped.join(', ')} asks`);
}

/** Groups that targets or scopes are for, and whose filter cannot be told without asking. */
function brokenGroupsInUse(db: Db): string[] {
  const used = [...readAllTargets(db).map(({ group }) => group), ...listScopes(db).map((one) => one.scope.group ?? '')];
  return [...new Set(used)].filter((name) => name !== '' && groupFilterMistake(db, name) !== null);
}

import { FilterError, type FilterNode } from '../filter/filterNode';
import { parseFilter } from '../filter/syntax';

/** Things that can be put together in a group. */
export const groupedThings = ['devices', 'ports'] as const;
export type GroupedThing = (typeof groupedThings)[number];

/** Rows that belong together: named one by one, or all that a filter holds. What belongs to a group within it belongs to it too. */
export interface EstateGroup {
  name: string;
  thing: GroupedThing;
  kind: 'fixed' | 'filter';
  /** of a group by filter */
  where: string;
  /** ids of the rows of a fixed group */
  members: string[];
  /** the group this one lies in; null for none */
  within: string | null;
  note: string;
}

/** A group cannot be as it is written. */
export class GroupMistake extends Error {
  constructor(
    readonly path: 'where' | 'within',
    message: string,
  ) {
    super(message);
  }
}

const fields = new Set(['group', 'device.group', 'port.group']);
const ofMaintenance = /(^|\.)maintenance(until)?$/i;
const same = (x: string, y: string) => x.toLowerCase() === y.toLowerCase();

/** The terms of a filter. */
function termsOf(node: FilterNode): (FilterNode & { kind: 'term' })[] {
  if (node.kind === 'all' || node.kind === 'any') return node.of.flatMap(termsOf);
  return node.kind === 'not' ? termsOf(node.of) : [node];
}

/** Whether a filter asks for maintenance, which is itself a matter of filters and groups. @throws FilterError */
export const asksForMaintenance = (where: string): boolean =>
  termsOf(parseFilter(where)).some(({ field }) => field !== null && ofMaintenance.test(field));

/** The groups that a filter names. @throws FilterError, GroupMistake where it names one otherwise than exactly */
export const groupsNamed = (where: string): string[] =>
  termsOf(parseFilter(where)).flatMap(({ field, relation, value, pattern }) => {
    if (field === null || !fields.has(field)) return [];
    if ((relation !== '=' && relation !== '!=') || value === '' || pattern)
      throw new GroupMistake('where', `A group is built on others by their whole name: group="${value || '…'}"`);
    return [value];
  });

/** The groups whose members must be known before those of a group are: those its filter names, and those that lie in it. */
export function groupsNeeded(group: EstateGroup, all: EstateGroup[]): EstateGroup[] {
  const named = group.kind === 'filter' ? groupsNamed(group.where) : [];
  return all.filter(
    (other) =>
      !same(other.name, group.name) &&
      (named.some((name) => same(name, other.name)) || (other.within !== null && same(other.within, group.name))),
  );
}

/**
 * Looks whether a group may stand among others: what it names is there, it lies in one of its own kind, and nothing goes round in a circle.
 * @param all the groups as they would be, with this one
 * @throws FilterError, GroupMistake
 */
export function examineGroup(group: EstateGroup, all: EstateGroup[]): void {
  if (group.kind === 'filter' && asksForMaintenance(group.where))
    throw new GroupMistake('where', 'A group cannot depend on maintenance: maintenance may be of groups');
  const find = (name: string) => all.find((other) => same(other.name, name));
  for (const name of group.kind === 'filter' ? groupsNamed(group.where) : []) {
    if (same(name, group.name)) throw new GroupMistake('where', `“${name}” cannot be built on itself`);
    if (!find(name)) throw new GroupMistake('where', `There is no group “${name}”`);
  }
  if (group.within !== null) {
    const outer = find(group.within);
    if (!outer || same(group.within, group.name))
      throw new GroupMistake('within', outer ? 'A group cannot lie in itself' : `There is no group “${group.within}”`);
    if (outer.thing !== group.thing) throw new GroupMistake('within', `“${outer.name}” is a group of ${outer.thing}`);
  }
  const path: string[] = [];
  const visit = (one: EstateGroup) => {
    if (path.includes(one.name))
      throw new GroupMistake(
        group.within === null ? 'where' : 'within',
        `This goes round in a circle: ${[...path.slice(path.indexOf(one.name)), one.name].join(' → ')}`,
      );
    path.push(one.name);
    groupsNeeded(one, all).forEach(visit);
    path.pop();
  };
  visit(group);
}

/** Groups that would be built on nothing, or lie in nothing, without this one. */
export const groupsLeaningOn = (group: EstateGroup, all: EstateGroup[]): string[] =>
  all
    .filter(
      (other) =>
        !same(other.name, group.name) &&
        ((other.within !== null && same(other.within, group.name)) ||
          (other.kind === 'filter' && groupsNamed(other.where).some((name) => same(name, group.name)))),
    )
    .map(({ name }) => name);

/**
 * A filter of devices in which groups are what makes them: their filters, and the ids of those named in them (`id=12`). For where no table is at hand.
 * @throws FilterError where a group is named that is not there, or otherwise than exactly
 */
export function withGroupsWrittenOut(tree: FilterNode, groups: EstateGroup[]): FilterNode {
  const membersOf = (group: EstateGroup): FilterNode => ({
    kind: 'any',
    of: [
      ...(group.kind === 'filter'
        ? [writeOut(parseFilter(group.where))]
        : group.members.map((id): FilterNode => ({ kind: 'term', field: 'id', relation: '=', value: id, at: 0 }))),
      ...groups.filter(({ within }) => within !== null && same(within, group.name)).map(membersOf),
    ],
  });
  const writeOut = (node: FilterNode): FilterNode => {
    if (node.kind === 'all' || node.kind === 'any') return { ...node, of: node.of.map(writeOut) };
    if (node.kind === 'not') return { ...node, of: writeOut(node.of) };
    if (node.field !== 'group') return node;
    const group = groups.find(({ name, thing }) => thing === 'devices' && same(name, node.value));
    if ((node.relation !== '=' && node.relation !== '!=') || node.pattern)
      throw new FilterError('A group is named by its whole name', node.at, `group="${node.value}"`);
    if (!group)
      throw new FilterError(
        `There is no group of devices “${node.value}”`,
        node.at,
        `one of ${
          groups
            .filter(({ thing }) => thing === 'devices')
            .map(({ name }) => name)
            .join(', ') || 'the groups that are there: none yet'
        }`,
      );
    return node.relation === '=' ? membersOf(group) : { kind: 'not', of: membersOf(group) };
  };
  return writeOut(tree);
}

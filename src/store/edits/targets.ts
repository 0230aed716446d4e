import { readGroups } from '../groups';
import { deleteTarget, readTargets, saveTarget, type Target } from '../targets';
import { EditRefused, oneByOne, type Editable } from './editable';

/** What a target is for, as its key in the log. */
export const targetKey = ({ vendor, family, group }: Pick<Target, 'vendor' | 'family' | 'group'>): string =>
  [vendor, family, group].join('\t');

export const targetWords = ({ vendor, family, release, group }: Omit<Target, 'setBy' | 'setAt'>): string =>
  `${vendor} ${family} ${release}${group && ` in ${group}`}`.trim();

/** Targets, as the log of edits sees them: two are the same where they are for the same release. */
export const targetEdits: Editable<Target> = {
  kind: 'targets',
  one: 'target',
  many: 'targets',
  role: 'operator',
  called: targetWords,
  same: (one, other) => one.release === other.release,
  read: (db, key) => readTargets(db).find((one) => targetKey(one) === key) ?? null,
  write: oneByOne((db, key, after) => {
    if (after === null) {
      const [vendor = '', family = '', group = ''] = (key ?? '').split('\t');
      deleteTarget(db, { vendor, family, group });
      return key ?? '';
    }
    const { group } = after;
    const known = readGroups(db).some(({ name, thing }) => name === group && thing === 'devices');
    if (group !== '' && !known) throw new EditRefused(`There is no group of devices “${group}”`, key, 'group');
    saveTarget(db, after);
    return targetKey(after);
  }),
};

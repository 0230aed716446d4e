import {
  completeTarget,
  isSameTarget,
  targetKey,
  targetPlace,
  targetWords,
  type ReleaseTarget,
} from '../../core/firmware/target';
import { readGroups } from '../groups';
import { deleteTarget, readAllTargets, saveTarget } from '../targets';
import { EditRefused, oneByOne, type Editable } from './editable';

/** Targets, as the log of edits sees them: two are the same where they say the same, whoever set them. */
export const targetEdits: Editable<ReleaseTarget> = {
  kind: 'targets',
  one: 'target',
  many: 'targets',
  role: 'operator',
  called: (target) => targetWords(target),
  same: isSameTarget,
  read: (db, key) => readAllTargets(db).find((one) => targetKey(one) === key) ?? null,
  write: oneByOne((db, key, after) => {
    if (after === null) {
      deleteTarget(db, targetPlace(key ?? ''));
      return key ?? '';
    }
    const { group } = completeTarget(after);
    const known = readGroups(db).some(({ name, thing }) => name === group && thing === 'devices');
    if (group !== '' && !known) throw new EditRefused(`There is no group of devices “${group}”`, key, 'group');
    saveTarget(db, after);
    return targetKey(after);
  }),
};

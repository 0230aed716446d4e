import { editWords } from '../core/own/editWords';
import type { EstateGroup } from '../core/groups/group';
import type { FieldEdit } from '../core/own/planEdit';
import { plannedEdit } from '../server/own/planned';
import { latestSealed } from '../store/base/sealedSurveys';
import type { Store } from '../store/base/database';
import { groupEdits } from '../store/edits/groups';
import { writeEdit } from '../store/edits/log';
import { ownValueChanges, ownValueEdits } from '../store/edits/ownValues';
import { readGroups } from '../store/groups';
import { readOwnFields } from '../store/ownFields';

/** What the people of the sample wrote of their devices: which filter of devices, and what about them. */
const written: { where: string; edits: Record<string, FieldEdit> }[] = [
  { where: 'role=switch or role=router or role=firewall', edits: { owner: { set: 'network control' } } },
  { where: 'role=server or role=hypervisor', edits: { owner: { set: 'server room' } } },
  { where: 'role=camera or role=access-point', edits: { owner: { set: 'field service' } } },
  {
    where: 'name=sgh-core-1 or name=sgh-core-2',
    edits: {
      tags: { add: ['core', 'never both at once'], remove: [] },
      notes: { set: 'Supply 2 hangs on feed B. Call network control before pulling anything.' },
    },
  },
  {
    where: 'name=rpw-plat',
    edits: { assetNumber: { set: 'OLR-04417' }, notes: { set: 'Swapped in October after water in the cabinet.' } },
  },
  { where: 'name=slm-ring or name=obs-ring', edits: { tags: { add: ['single line'], remove: [] } } },
];

const groups = [
  { name: 'Half-rings', where: 'role=switch family=K-Ring', within: null, note: 'what the trams stop without' },
  {
    name: 'North half-ring',
    where: 'site=LQY or site=RPW or site=CHD or site=OFY',
    within: null,
    note: 'Lantern Quay to Old Foundry',
  },
  {
    name: 'South half-ring',
    where: 'site=KLN or site=GLH or site=WVX or site=MLR or site=ORP',
    within: null,
    note: 'Kiln Lane to Orchard Park',
  },
  { name: 'Core', where: 'name:core role=switch', within: null, note: 'never both at once' },
];

/** Writes what people say of the sample, once its newest survey is there. */
export function writeDemoNotes(store: Store, who: string): void {
  if (readGroups(store.db).length > 0) return;
  for (const group of groups) {
    const after: EstateGroup = { ...group, thing: 'devices', kind: 'filter', members: [] };
    const changes = [{ key: null, before: null, after }];
    writeEdit(store.db, groupEdits, { who, act: 'made a group', words: group.name, changes });
  }
  const survey = latestSealed(store.db);
  for (const { where, edits } of written) {
    const { changes } = plannedEdit(store, 'devices', { survey, where }, edits);
    if (changes.length > 0)
      writeEdit(store.db, ownValueEdits.devices, {
        who,
        act: 'wrote own fields',
        words: editWords(readOwnFields(store.db), 'devices', Object.keys(edits), changes),
        changes: ownValueChanges(changes),
      });
  }
}

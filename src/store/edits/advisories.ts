import { advisoryKey, type Advisory } from '../../core/firmware/advisories/advisory';
import { deleteAdvisory, readAdvisoryOf, saveAdvisory } from '../advisories';
import { EditRefused, oneByOne, type Editable } from './editable';

/** Advisories, as the log of edits sees them. */
export const advisoryEdits: Editable<Advisory> = {
  kind: 'advisories',
  one: 'advisory',
  many: 'advisories',
  role: 'operator',
  called: ({ publisher, number }) => `${publisher} ${number}`,
  read: readAdvisoryOf,
  write: oneByOne((db, key, after) => {
    if (after === null) {
      deleteAdvisory(db, key ?? '');
      return key ?? '';
    }
    const own = advisoryKey(after);
    if (key !== null && key !== own)
      throw new EditRefused('An advisory keeps its number: take it away and add another', key, 'number');
    saveAdvisory(db, after);
    return own;
  }),
};

import { readMakerPrefixes } from '../../core/values/makerPrefixes';
import { makerEdits } from '../../store/edits/makers';
import { readMakers } from '../../store/makers';
import { importWords, shownChanges, type ImportDomain } from './domain';

/** Makers of MAC prefixes that the published list does not have. */
export const makerImport: ImportDomain = {
  name: 'makers',
  title: 'Makers of MAC prefixes',
  one: 'prefix',
  many: 'prefixes',
  about:
    'A line for each prefix. A prefix in the file is of the maker the file names; those that are not in it stay. They go before the list that comes with the program.',
  columns: [
    {
      name: 'prefix',
      isNeeded: true,
      about: '24, 28 or 36 bits: 6, 7 or 9 hexadecimal digits, however they are parted',
    },
    { name: 'maker', isNeeded: true, about: 'its name' },
  ],
  now: '',
  editable: makerEdits,
  act: 'took makers from a file',
  plan: (store, _survey, head, lines, file) => {
    const { makers, mistakes } = readMakerPrefixes(head, lines);
    const known = readMakers(store.db);
    const changes = makers
      .map(({ prefix, name }) => ({ key: prefix, before: known.get(prefix) ?? null, after: name }))
      .filter(({ before, after }) => before !== after);
    const added = changes.filter(({ before }) => before === null).length;
    const told = {
      named: makers.length,
      added,
      changed: changes.length - added,
      same: makers.length - changes.length,
      columns: ['Prefix'],
      changes: changes.slice(0, shownChanges).map(({ key, before, after }) => ({
        cells: [key],
        isNew: before === null,
        differs: [{ field: 'maker', before: before ?? '', after }],
      })),
      notes: [],
      passedOver: [],
      mistakes,
    };
    return { told, changes, words: importWords(told, file) };
  },
};

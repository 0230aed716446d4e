import type { CatalogueRelease } from '../../core/firmware/catalogue';
import { differing, planReleases, releaseColumns } from '../../core/firmware/planReleases';
import { formatBytes } from '../../core/values/quantity';
import { readCatalogue } from '../../store/catalogue';
import { releaseEdits, releaseKey } from '../../store/edits/releases';
import { importWords, shownChanges, type ImportDomain } from '../imports/domain';

/** Releases of the catalogue from a list. */
export const releaseImport: ImportDomain = {
  name: 'catalogue',
  title: 'Releases of the catalogue',
  one: 'release',
  many: 'releases',
  about:
    'A line for each release. A release in the file becomes what the file says of it; those that are not in it stay.',
  columns: releaseColumns,
  now: '/api/v1/releases?format=csv',
  editable: releaseEdits,
  act: 'took releases from a file',
  plan: (store, _survey, head, lines, file) => {
    const plan = planReleases(head, lines, readCatalogue(store.db));
    const added = plan.changes.filter(({ before }) => before === null).length;
    const told = {
      named: plan.named,
      added,
      changed: plan.changes.length - added,
      same: plan.named - plan.changes.length,
      columns: ['Family', 'Component', 'Release'],
      changes: plan.changes.slice(0, shownChanges).map(({ before, after }) => ({
        cells: [`${after.vendor} ${after.family}`, after.component, after.release],
        isNew: before === null,
        differs: before
          ? differing(before, after).map((field) => ({
              field,
              before: shown(before, field),
              after: shown(after, field),
            }))
          : [],
      })),
      notes: [],
      passedOver: plan.passedOver,
      mistakes: plan.mistakes,
    };
    const changes = plan.changes.map(({ before, after }) => ({
      key: before && releaseKey(before),
      before,
      after,
    }));
    return { told, changes, words: importWords(told, file) };
  },
};

/** A field as people read it. */
function shown(entry: CatalogueRelease, field: keyof CatalogueRelease): string {
  const value = entry[field];
  if (value === null) return '';
  if (typeof value === 'number') return formatBytes(value);
  if (typeof value === 'string') return value;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return value.map((one) => (typeof one === 'string' ? one : Object.values(one).join(' = '))).join(', ');
}

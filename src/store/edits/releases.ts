import type { CatalogueRelease } from '../../core/firmware/readiness';
import { addRelease, deleteRelease, readCatalogue } from '../catalogue';
import { readTargets } from '../targets';
import { EditRefused, oneByOne, type Editable } from './editable';

type ReleaseName = Pick<CatalogueRelease, 'vendor' | 'family' | 'release'>;

/** A release of the catalogue, as its key in the log. */
export const releaseKey = ({ vendor, family, release }: ReleaseName): string => [vendor, family, release].join('\t');

export const releaseWords = ({ vendor, family, release }: ReleaseName): string => `${vendor} ${family} ${release}`;

/** Releases of the catalogue, as the log of edits sees them. */
export const releaseEdits: Editable<CatalogueRelease> = {
  kind: 'releases',
  one: 'release',
  many: 'releases',
  role: 'operator',
  called: releaseWords,
  read: (db, key) => readCatalogue(db).find((one) => releaseKey(one) === key) ?? null,
  write: oneByOne((db, key, after, before) => {
    if (after !== null) {
      const own = releaseKey(after);
      if (before !== null && own !== key)
        throw new EditRefused('A release keeps its name: remove it and add another', key, 'release');
      addRelease(db, after);
      return own;
    }
    const [vendor = '', family = '', release = ''] = (key ?? '').split('\t');
    const target = readTargets(db).find(
      (one) => one.vendor === vendor && one.family === family && one.release === release,
    );
    if (target) {
      const whom = target.group === '' ? `${vendor} ${family}` : `“${target.group}”`;
      throw new EditRefused(`It is the target of ${whom}: set another one first`, key, '', 'In use');
    }
    deleteRelease(db, { vendor, family, release });
    return key ?? '';
  }),
};

import isEqual from 'fast-deep-equal';
import { completeRelease, type CatalogueRelease, type ReleaseName } from '../../core/firmware/catalogue';
import { targetScope } from '../../core/firmware/target';
import type { ComponentKind } from '../../core/firmware/components';
import { addRelease, deleteRelease, readCatalogue } from '../catalogue';
import { readAllTargets } from '../targets';
import { EditRefused, oneByOne, type Editable } from './editable';

/** As the log may have kept one before there were parts. */
type KeptName = Omit<ReleaseName, 'component'> & Partial<ReleaseName>;

/** A release of the catalogue, as its key in the log. */
export const releaseKey = ({ vendor, family, component = 'system', release }: KeptName): string =>
  // most are of systems, and were known without it before there were others
  [vendor, family, release, ...(component === 'system' ? [] : [component])].join('\t');

export const releaseWords = ({ vendor, family, component = 'system', release }: KeptName): string =>
  [vendor, family, ...(component === 'system' ? [] : [component]), release].join(' ');

/** Releases of the catalogue, as the log of edits sees them. */
export const releaseEdits: Editable<CatalogueRelease> = {
  kind: 'releases',
  one: 'release',
  many: 'releases',
  role: 'operator',
  called: releaseWords,
  same: (one, other) => isEqual(completeRelease(one), completeRelease(other)),
  read: (db, key) => readCatalogue(db).find((one) => releaseKey(one) === key) ?? null,
  write: oneByOne((db, key, after, before) => {
    if (after !== null) {
      const own = releaseKey(after);
      if (before !== null && own !== key)
        throw new EditRefused('A release keeps its name: remove it and add another', key, 'release');
      addRelease(db, completeRelease(after));
      return own;
    }
    const [vendor = '', family = '', release = '', part = 'system'] = (key ?? '').split('\t');
    const component = part as ComponentKind;
    const target = readAllTargets(db).find(
      (one) => one.component === component && one.vendor === vendor && one.family === family && one.release === release,
    );
    if (target) {
      const whom = targetScope(target) || `${vendor} ${family}`;
      const where = target.draft ? ` in the draft “${target.draft}”` : '';
      throw new EditRefused(`It is the target of ${whom}${where}: set another one first`, key, '', 'In use');
    }
    deleteRelease(db, { vendor, family, component, release });
    return key ?? '';
  }),
};

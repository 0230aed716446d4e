import { isSameLine, type CatalogueRelease } from '../../../core/firmware/catalogue';
import { imagesByName, imageStanding } from '../../../core/firmware/image';
import { targetScope } from '../../../core/firmware/target';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { readCatalogue } from '../../../store/catalogue';
import { readImages } from '../../../store/images';
import { readTargets } from '../../../store/targets';
import type { Builder } from './rowBuilder';

/** Images of the releases that the catalogue names, and what else lies in their folder. */
export const images: Builder = ({ db }) => {
  const files = imagesByName(readImages(db));
  const targets = readTargets(db);
  const named = readCatalogue(db).filter(({ image }) => image !== '');
  const known = new Set(named.map(({ image }) => image));
  const targetsOf = (entry: CatalogueRelease) =>
    targets
      .filter((one) => isSameLine(one, entry) && one.release === entry.release)
      .map((one) => targetScope(one) || 'all');
  const rows = named.flatMap((entry) => {
    const standing = imageStanding(entry, files);
    if (!standing) return [];
    return [rowOf(entry.image, standing, entry)];
  });
  const others = [...files.values()]
    .filter(({ name }) => !known.has(name))
    .map(({ name, mistake, hash }) =>
      rowOf(name, {
        state: mistake ? 'not readable' : hash ? 'of no release' : 'being read',
        words: mistake ? `it cannot be read: ${mistake}` : 'no release of the catalogue names it',
      }),
    );
  function rowOf(name: string, { state, words }: { state: string; words: string }, entry?: CatalogueRelease) {
    const file = files.get(name);
    return {
      id: entry ? [name, entry.vendor, entry.family, entry.component, entry.release].join('\t') : name,
      name,
      state,
      words,
      vendor: entry?.vendor ?? '',
      family: entry?.family ?? '',
      component: entry?.component ?? '',
      release: entry?.release ?? '',
      targetOf: entry ? targetsOf(entry) : [],
      bytes: file?.bytes ?? null,
      hash: file?.hash ?? '',
      neededHash: entry?.imageHash ?? '',
      neededBytes: entry?.imageBytes ?? null,
    };
  }
  return [...rows, ...others].sort((x, y) => compareNaturally(x.name, y.name));
};

import { imagesByName, imageStanding } from '../../../core/firmware/image';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { releaseKey } from '../../../store/edits/releases';
import { readCatalogue } from '../../../store/catalogue';
import { readImages } from '../../../store/images';
import { readTargets } from '../../../store/targets';
import { targetScope } from '../../../core/firmware/target';
import { ReleaseLines } from './componentLines';
import type { Builder } from './rowBuilder';

/** The catalogue: every release that is known, what it needs, and how many run it. */
export const releases: Builder = ({ db, survey, components }) => {
  const all = survey === 0 ? [] : components();
  const lines = new ReleaseLines(db, all);
  const runs = new Map<string, number>();
  for (const { line, component } of all) {
    const key = releaseKey({
      vendor: line.vendor,
      family: line.product,
      component: line.kind,
      release: component.release,
    });
    runs.set(key, (runs.get(key) ?? 0) + 1);
  }
  const targets = readTargets(db);
  const files = imagesByName(readImages(db));
  return readCatalogue(db)
    .map((entry) => {
      const key = releaseKey(entry);
      const own = targets.filter(
        (one) =>
          one.vendor === entry.vendor &&
          one.family === entry.family &&
          one.component === entry.component &&
          one.release === entry.release,
      );
      return {
        ...entry,
        id: key,
        hardware: entry.hardware.map(({ model, revision }) => `${model} = ${revision}`),
        others: entry.others.map(({ component, release }) => `${component} = ${release}`),
        runs: runs.get(key) ?? 0,
        targetOf: own.map((one) => targetScope(one) || 'all'),
        imageState: files.size === 0 ? '' : (imageStanding(entry, files)?.state ?? ''),
        isNewest:
          lines.of({ vendor: entry.vendor, product: entry.family, kind: entry.component })?.newest === entry.release,
      };
    })
    .sort(
      (x, y) =>
        compareNaturally(`${x.vendor} ${x.family}`, `${y.vendor} ${y.family}`) ||
        compareNaturally(x.component, y.component) ||
        (lines.of({ vendor: x.vendor, product: x.family, kind: x.component })?.order.compare(y.release, x.release) ??
          0),
    );
};

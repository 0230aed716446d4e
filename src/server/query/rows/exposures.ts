import {
  isAffected,
  isOfVendor,
  mendedIn,
  namesOf,
  productNames,
  severities,
  type Advisory,
  type AffectedProduct,
} from '../../../core/firmware/advisories/advisory';
import { naturalOrder, type ReleaseOrder } from '../../../core/firmware/scheme';
import { readAdvisories } from '../../../store/advisories';
import type { Db } from '../../../store/base/database';
import type { PlacedComponent } from './componentLines';

/** An advisory that is open of a release, and the release in which it is mended; null where none is known. */
export interface Exposure {
  advisory: Advisory;
  mendedIn: string | null;
}

type Part = Pick<PlacedComponent, 'line' | 'device'>;

/** Which advisories are open of what runs: those that name its product, where its release is one of the affected. */
export class Exposures {
  readonly all: readonly Advisory[];
  readonly #byName = new Map<string, { advisory: Advisory; affected: AffectedProduct }[]>();
  readonly #named = new Map<string, { advisory: Advisory; affected: AffectedProduct }[]>();
  readonly #open = new Map<string, Exposure[]>();

  constructor(db: Db) {
    this.all = readAdvisories(db);
    for (const advisory of this.all)
      for (const affected of advisory.affects)
        for (const name of productNames(affected)) {
          const own = this.#byName.get(name) ?? [];
          this.#byName.set(name, own);
          own.push({ advisory, affected });
        }
  }

  /** What is open of a release of a component, the worst first. */
  of({ line, device }: Part, release: string, order: ReleaseOrder = naturalOrder): Exposure[] {
    const { vendor, product, kind } = line;
    const part = { vendor, family: product, model: product === device.family ? device.model : '', component: kind };
    const key = [part.vendor, part.family, part.model, kind].join('\t');
    const releaseKey = `${key}\t${release}`;
    const known = this.#open.get(releaseKey);
    if (known) return known;
    let named = this.#named.get(key);
    if (!named) {
      named = namesOf(part)
        .flatMap((name) => this.#byName.get(name) ?? [])
        .filter(({ affected }) => isOfVendor(affected, vendor));
      this.#named.set(key, named);
    }
    const found = new Map<Advisory, Exposure>();
    for (const { advisory, affected } of named)
      if (!found.has(advisory) && isAffected(affected, release, order))
        found.set(advisory, { advisory, mendedIn: mendedIn(affected, release, order) });
    const open = [...found.values()].sort(
      (x, y) => severities.indexOf(x.advisory.severity) - severities.indexOf(y.advisory.severity),
    );
    this.#open.set(releaseKey, open);
    return open;
  }
}

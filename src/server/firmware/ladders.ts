import { isSameLine, type ReleaseStatus } from '../../core/firmware/catalogue';
import { componentKinds, type ComponentKind } from '../../core/firmware/components';
import { naturalOrder } from '../../core/firmware/scheme';
import { targetScope } from '../../core/firmware/target';
import { valueAt } from '../../core/tables/column';
import { compareNaturally } from '../../core/values/naturalOrder';
import type { Store } from '../../store/base/database';
import { readCatalogue } from '../../store/catalogue';
import { knownSchemes, type SchemeMistake } from '../../store/releaseOrders';
import { readTargets } from '../../store/targets';
import { tablesOf } from '../query/tables/estateTables';

/** One release of a line, with how many parts run it. */
export interface Rung {
  release: string;
  count: number;
  /** how many ran it at the moment it is held against; null where there is none */
  before: number | null;
  /** a day; null where the catalogue does not know it */
  published: string | null;
  /** how its maker stands to it; null where the catalogue does not know it */
  status: ReleaseStatus | null;
  /** whose target it is: `all`, or names of groups */
  targetOf: string[];
}

/** The releases of one component of a family or a product, oldest first. */
export interface Ladder {
  vendor: string;
  product: string;
  component: ComponentKind;
  /** how its releases are written; null where they stand by their numbers and letters */
  scheme: string | null;
  /** parts that run any of them, and on how many devices */
  count: number;
  devices: number;
  /** how many different releases run */
  spread: number;
  rungs: Rung[];
  /** older ones that the catalogue knows and nobody runs */
  older: number;
}

interface Line {
  vendor: string;
  product: string;
  component: ComponentKind;
  scheme: string;
  runs: Map<string, number>;
  before: Map<string, number>;
  devices: Set<number>;
}

/** What runs, line by line: the most mixed first. */
export function laddersAt(
  store: Store,
  survey: number,
  against: number | null,
): { ladders: Ladder[]; mistakes: SchemeMistake[] } {
  const lines = new Map<string, Line>();
  gather(store, survey, lines, 'runs');
  if (against !== null) gather(store, against, lines, 'before');
  const catalogue = readCatalogue(store.db);
  const targets = readTargets(store.db);
  const { orders, mistakes } = knownSchemes(store.db);
  const ladders = [...lines.values()].map(({ vendor, product, component, scheme, runs, before, devices }): Ladder => {
    const line = { vendor, family: product, component };
    const own = catalogue.filter((one) => isSameLine(one, line));
    const published = new Map(own.map((one) => [one.release, one]));
    const targetOf = (release: string) =>
      targets.filter((one) => isSameLine(one, line) && one.release === release).map((one) => targetScope(one) || 'all');
    const order = orders.find((one) => one.scheme?.name === scheme) ?? naturalOrder;
    const inOrder = [...new Set([...runs.keys(), ...before.keys(), ...published.keys()])].sort(order.compare);
    const first = inOrder.findIndex(
      (release) => runs.has(release) || before.has(release) || targetOf(release).length > 0,
    );
    return {
      vendor,
      product,
      component,
      scheme: order.scheme?.name ?? null,
      count: [...runs.values()].reduce((sum, one) => sum + one, 0),
      devices: devices.size,
      spread: runs.size,
      older: Math.max(0, first),
      rungs: inOrder.slice(Math.max(0, first)).map((release) => ({
        release,
        count: runs.get(release) ?? 0,
        before: against === null ? null : (before.get(release) ?? 0),
        published: published.get(release)?.published ?? null,
        status: published.get(release)?.status ?? null,
        targetOf: targetOf(release),
      })),
    };
  });
  return {
    mistakes,
    ladders: ladders.sort(
      (x, y) =>
        componentKinds.indexOf(x.component) - componentKinds.indexOf(y.component) ||
        y.spread - x.spread ||
        y.count - x.count ||
        compareNaturally(`${x.vendor} ${x.product}`, `${y.vendor} ${y.product}`),
    ),
  };
}

function gather(store: Store, survey: number, lines: Map<string, Line>, into: 'runs' | 'before'): void {
  const table = tablesOf(store).table('components', survey, null);
  const owners = table.owners();
  const [vendors, products, kinds, releases, schemes] = (
    ['vendor', 'product', 'component', 'release', 'scheme'] as const
  ).map((field) => table.column(field));
  if (!vendors || !products || !kinds || !releases || !schemes) return;
  for (let row = 0; row < table.size; row++) {
    const [vendor, product] = [String(valueAt(vendors, row)), String(valueAt(products, row))];
    const component = valueAt(kinds, row) as ComponentKind;
    const key = `${vendor}\t${product}\t${component}`;
    let line = lines.get(key);
    if (!line)
      lines.set(
        key,
        (line = {
          ...{ vendor, product, component, scheme: String(valueAt(schemes, row)) },
          ...{ runs: new Map(), before: new Map(), devices: new Set() },
        }),
      );
    const release = String(valueAt(releases, row));
    line[into].set(release, (line[into].get(release) ?? 0) + 1);
    if (into === 'runs') line.devices.add(owners[row] ?? 0);
  }
}

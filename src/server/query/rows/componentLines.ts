import type { DeviceFacts, ModuleFacts, SoftwareFacts } from '../../../core/estate/facts';
import { mayBeTarget, type CatalogueRelease } from '../../../core/firmware/catalogue';
import { componentsOf, type Component } from '../../../core/firmware/components';
import { orderFor, type ReleaseOrder } from '../../../core/firmware/scheme';
import type { Db } from '../../../store/base/database';
import { factsAsOf } from '../../../store/base/facts';
import { readCatalogue } from '../../../store/catalogue';
import { releaseOrders, signatureSchemes } from '../../../store/releaseOrders';
import { byDevice } from './byDevice';

/** Whose releases those of a component are: of the family of the device, or of the model of the part. */
export interface ReleaseLine {
  vendor: string;
  product: string;
  kind: Component['kind'];
}

/** A component on its device. */
export interface PlacedComponent {
  id: string;
  deviceId: number;
  device: DeviceFacts;
  component: Component;
  line: ReleaseLine;
  /** how the signature of its device says releases are written */
  scheme: string | null;
  /** of the hardware of its device; empty where it is not told */
  hardwareRevision: string;
}

const ofDevice: ReadonlySet<Component['kind']> = new Set(['system', 'boot code', 'management controller', 'BIOS']);

const lineOf = ({ vendor, family, model }: DeviceFacts, { kind, path, model: part }: Component): ReleaseLine => ({
  vendor,
  product: (ofDevice.has(kind) && path === '' ? family : part) || family || model,
  kind,
});

/** Every component as of a survey, of some devices or of all, device by device. Devices that do not tell what they run have a system of no release. */
export function componentsAt(db: Db, survey: number, devices?: number[]): PlacedComponent[] {
  const modules = byDevice(factsAsOf<ModuleFacts>(db, 'module', survey, devices));
  const software = byDevice(factsAsOf<SoftwareFacts>(db, 'software', survey, devices));
  const schemes = signatureSchemes(db);
  const taken = new Map<string, number>();
  return factsAsOf<DeviceFacts>(db, 'device', survey, devices).flatMap(({ deviceId, content }) => {
    const chassis = modules.get(deviceId)?.find((one) => one.class === 'chassis' && one.hardwareRevision !== '');
    return [
      ...(content.release === '' ? [unknownSystem(content)] : []),
      ...componentsOf(content, modules.get(deviceId) ?? [], software.get(deviceId) ?? []),
    ].map((component) => {
      const key = `${deviceId}:${[component.kind, component.path || component.name].filter(Boolean).join(' ')}`;
      const nth = (taken.get(key) ?? 0) + 1;
      taken.set(key, nth);
      return {
        id: nth > 1 ? `${key} (${nth})` : key,
        deviceId,
        device: content,
        component,
        line: lineOf(content, component),
        scheme: component.kind === 'system' ? (schemes.get(content.signature) ?? null) : null,
        hardwareRevision: chassis?.hardwareRevision ?? '',
      };
    });
  });
}

const unknownSystem = ({ model, serial }: DeviceFacts): Component => ({
  ...{ kind: 'system', name: '', path: '', model, serial, release: '', nextImage: '', standbyRelease: '' },
  toldBy: 'the device',
});

/** What is known of the releases of a line: in which order they stand, how many are in use, which is the newest, and what the catalogue has. */
export interface KnownLine {
  order: ReleaseOrder;
  spread: number;
  newest: string;
  catalogue: readonly CatalogueRelease[];
  published: ReadonlyMap<string, string>;
}

const keyOf = ({ vendor, product, kind }: ReleaseLine): string => `${vendor}\t${product}\t${kind}`;

/** The lines of releases that run or are in the catalogue. */
export class ReleaseLines {
  readonly #known = new Map<string, KnownLine>();

  constructor(db: Db, running: readonly PlacedComponent[]) {
    const lines = new Map<string, { runs: Set<string>; catalogue: CatalogueRelease[]; scheme: string | null }>();
    const lineAt = (key: string) => {
      const own = lines.get(key) ?? { runs: new Set<string>(), catalogue: [], scheme: null };
      lines.set(key, own);
      return own;
    };
    for (const { component, line, scheme } of running) {
      const own = lineAt(keyOf(line));
      if (component.release !== '') own.runs.add(component.release);
      own.scheme ??= scheme;
    }
    for (const entry of readCatalogue(db))
      lineAt(keyOf({ vendor: entry.vendor, product: entry.family, kind: entry.component })).catalogue.push(entry);
    const orders = releaseOrders(db);
    for (const [key, { runs, catalogue, scheme }] of lines) {
      const order = orderFor([...runs, ...catalogue.map(({ release }) => release)], orders, scheme);
      const newest = catalogue
        .filter(mayBeTarget)
        .reduce((best, { release }) => (best && order.compare(best, release) >= 0 ? best : release), '');
      const published = new Map(catalogue.map((one) => [one.release, one.published]));
      this.#known.set(key, { order, spread: runs.size, newest, catalogue, published });
    }
  }

  of(line: ReleaseLine): KnownLine | undefined {
    return this.#known.get(keyOf(line));
  }
}

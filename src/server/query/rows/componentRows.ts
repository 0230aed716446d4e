import type { DeviceFacts, ModuleFacts, SoftwareFacts } from '../../../core/estate/facts';
import { mayBeTarget } from '../../../core/firmware/catalogue';
import { componentsOf, type Component } from '../../../core/firmware/components';
import { orderFor, type ReleaseOrder } from '../../../core/firmware/scheme';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { factsAsOf } from '../../../store/base/facts';
import { readCatalogue } from '../../../store/catalogue';
import { releaseOrders, signatureSchemes } from '../../../store/releaseOrders';
import { Calendar } from '../calendar';
import { byDevice } from './byDevice';
import type { Builder } from './rowBuilder';

const dayMs = 86_400_000;

/** What runs where: every part that has a release, with what the catalogue knows of that. */
export const components: Builder = ({ db, survey }) => {
  const modules = byDevice(factsAsOf<ModuleFacts>(db, 'module', survey));
  const software = byDevice(factsAsOf<SoftwareFacts>(db, 'software', survey));
  const schemes = signatureSchemes(db);
  const all = factsAsOf<DeviceFacts>(db, 'device', survey).flatMap(({ deviceId, content }) =>
    componentsOf(content, modules.get(deviceId) ?? [], software.get(deviceId) ?? []).map((component) => ({
      deviceId,
      device: content,
      component,
      line: lineOf(content, component),
      scheme: component.kind === 'system' ? (schemes.get(content.signature) ?? null) : null,
    })),
  );
  const lines = new Lines(
    all.map(({ line, component, scheme }) => ({ ...line, release: component.release, scheme })),
    readCatalogue(db).map(({ vendor, family, component, release, published, status }) => ({
      ...{ vendor, product: family, kind: component, release, published },
      isNewer: mayBeTarget({ status }),
    })),
    releaseOrders(db),
  );
  const today = Date.parse(new Calendar(db).momentOf(survey));
  const taken = new Map<string, number>();
  return all
    .map(({ deviceId, device, component, line }) => {
      const { kind, name, path, serial, release, nextImage, standbyRelease, toldBy } = component;
      const known = lines.of(line);
      const published = known?.published.get(release) ?? null;
      const key = `${deviceId}:${[kind, path || name].filter(Boolean).join(' ')}`;
      const nth = (taken.get(key) ?? 0) + 1;
      taken.set(key, nth);
      return {
        id: nth > 1 ? `${key} (${nth})` : key,
        deviceId,
        device: device.name,
        role: device.role,
        component: kind,
        name,
        vendor: line.vendor,
        product: line.product,
        serial,
        release,
        next: nextImage,
        standby: standbyRelease,
        published,
        ageDays: published === null ? null : Math.max(0, Math.floor((today - Date.parse(published)) / dayMs)),
        newest: known?.newest ?? '',
        step: known?.newest ? stepWords(known.order, known.newest, release) : '',
        spread: known?.spread ?? 1,
        scheme: known?.order.scheme?.name ?? 'as numbers and letters stand',
        toldBy,
      };
    })
    .sort((x, y) => compareNaturally(x.device, y.device));
};

/** Whose releases those of a component are: of the family of the device, or of the model of the part. */
interface Line {
  vendor: string;
  product: string;
  kind: Component['kind'];
}

const ofDevice: ReadonlySet<Component['kind']> = new Set(['system', 'boot code', 'management controller', 'BIOS']);

const lineOf = ({ vendor, family, model }: DeviceFacts, { kind, path, model: part }: Component): Line => ({
  vendor,
  product: (ofDevice.has(kind) && path === '' ? family : part) || family || model,
  kind,
});

const stepWords = (order: ReleaseOrder, newest: string, release: string): string => {
  const relation = order.relation(newest, release);
  if (order.compare(newest, release) <= 0) return relation === 'same release' ? 'runs it' : 'runs a later one';
  return relation === 'no train' ? 'newer' : relation;
};

/** By whose they are: in which order releases stand, how many are in use, which is the newest that is known. */
class Lines {
  readonly #known = new Map<
    string,
    { order: ReleaseOrder; spread: number; newest: string; published: Map<string, string> }
  >();

  constructor(
    running: readonly (Line & { release: string; scheme: string | null })[],
    catalogue: readonly (Line & { release: string; published: string; isNewer: boolean })[],
    orders: readonly ReleaseOrder[],
  ) {
    const lines = new Map<
      string,
      { runs: Set<string>; published: Map<string, string>; newer: Set<string>; scheme: string | null }
    >();
    const lineAt = (line: Line) => {
      const key = keyOf(line);
      const own = lines.get(key) ?? {
        ...{ runs: new Set<string>(), published: new Map<string, string>() },
        ...{ newer: new Set<string>(), scheme: null },
      };
      lines.set(key, own);
      return own;
    };
    for (const { release, scheme, ...line } of running) {
      const own = lineAt(line);
      own.runs.add(release);
      own.scheme ??= scheme;
    }
    for (const { release, published, isNewer, ...line } of catalogue) {
      const own = lineAt(line);
      own.published.set(release, published);
      if (isNewer) own.newer.add(release);
    }
    for (const [key, { runs, published, newer, scheme }] of lines) {
      const order = orderFor([...runs, ...published.keys()], orders, scheme);
      const newest = [...newer].reduce((best, one) => (best && order.compare(best, one) >= 0 ? best : one), '');
      this.#known.set(key, { order, spread: runs.size, newest, published });
    }
  }

  of(line: Line) {
    return this.#known.get(keyOf(line));
  }
}

const keyOf = ({ vendor, product, kind }: Line): string => `${vendor}\t${product}\t${kind}`;

import type { ReleaseOrder } from '../../../core/firmware/scheme';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { Calendar } from '../calendar';
import { ReleaseLines } from './componentLines';
import type { Builder } from './rowBuilder';

const dayMs = 86_400_000;

/** What runs where: every part that has a release, with what the catalogue knows of that. */
export const components: Builder = ({ db, survey, components: placed }) => {
  const all = placed().filter(({ component }) => component.release !== '');
  const lines = new ReleaseLines(db, all);
  const today = Date.parse(new Calendar(db).momentOf(survey));
  return all
    .map(({ id, deviceId, device, component, line }) => {
      const { kind, name, serial, release, nextImage, standbyRelease, toldBy } = component;
      const known = lines.of(line);
      const published = known?.published.get(release) ?? null;
      return {
        id,
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

const stepWords = (order: ReleaseOrder, newest: string, release: string): string => {
  const relation = order.relation(newest, release);
  if (order.compare(newest, release) <= 0) return relation === 'same release' ? 'runs it' : 'runs a later one';
  return relation === 'no train' ? 'newer' : relation;
};

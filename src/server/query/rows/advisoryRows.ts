import { advisoryKey, affectedWords } from '../../../core/firmware/advisories/advisory';
import { compareNaturally } from '../../../core/values/naturalOrder';
import { ReleaseLines } from './componentLines';
import { Exposures } from './exposures';
import type { Asked, Builder } from './rowBuilder';

/** What makers say is wrong with their releases, and how much of the estate runs one of them. */
export const advisories: Builder = ({ db, components }) => {
  const exposures = new Exposures(db);
  const hit = new Map<string, { devices: Map<number, string>; components: number }>();
  for (const { placed, open } of exposedIn({ db, components }, exposures))
    for (const { advisory } of open) {
      const key = advisoryKey(advisory);
      const own = hit.get(key) ?? { devices: new Map<number, string>(), components: 0 };
      hit.set(key, own);
      own.devices.set(placed.deviceId, placed.device.name);
      own.components++;
    }
  return exposures.all.map((advisory) => {
    const own = hit.get(advisoryKey(advisory));
    return {
      id: advisoryKey(advisory),
      number: advisory.number,
      publisher: advisory.publisher,
      title: advisory.title,
      severity: advisory.severity,
      score: advisory.score,
      published: advisory.published,
      updated: advisory.updated,
      summary: advisory.summary,
      remedy: advisory.remedy,
      others: advisory.others,
      products: [...new Set(advisory.affects.map(({ product }) => product))],
      affected: advisory.affects.map((one) => `${one.product} ${affectedWords(one)}`).join('; '),
      mendedIn: [...new Set(advisory.affects.flatMap(({ fixed }) => fixed))],
      exposed: own?.devices.size ?? 0,
      components: own?.components ?? 0,
      devices: [...(own?.devices.values() ?? [])].sort(compareNaturally),
      format: advisory.format,
    };
  });
};

/** Each part of a device of which an advisory is open. */
export const exposures: Builder = ({ db, components }) =>
  exposedIn({ db, components }, new Exposures(db))
    .flatMap(({ placed, open }) =>
      open.map(({ advisory, mendedIn }) => ({
        id: `${placed.id} ${advisoryKey(advisory)}`,
        deviceId: placed.deviceId,
        device: placed.device.name,
        role: placed.device.role,
        component: placed.component.kind,
        name: placed.component.name,
        product: placed.line.product,
        release: placed.component.release,
        number: advisory.number,
        publisher: advisory.publisher,
        title: advisory.title,
        severity: advisory.severity,
        score: advisory.score,
        published: advisory.published,
        mendedIn: mendedIn ?? '',
      })),
    )
    .sort((x, y) => compareNaturally(x.device, y.device));

function exposedIn({ db, components }: Pick<Asked, 'db' | 'components'>, open: Exposures) {
  if (open.all.length === 0) return [];
  const all = components();
  const lines = new ReleaseLines(db, all);
  return all.map((placed) => ({
    placed,
    open: open.of(placed, placed.component.release, lines.of(placed.line)?.order),
  }));
}

import type { DeviceFacts, ModuleFacts, SoftwareFacts } from '../../../core/estate/facts';
import { FilterError } from '../../../core/filter/filterNode';
import { isSameLine, type CatalogueRelease } from '../../../core/firmware/catalogue';
import { componentsOf } from '../../../core/firmware/components';
import { judgeReadiness } from '../../../core/firmware/readiness';
import { orderFor, type ReleaseOrder } from '../../../core/firmware/scheme';
import { targetOf } from '../../../core/firmware/target';
import { compareNaturally } from '../../../core/values/naturalOrder';
import type { Db } from '../../../store/base/database';
import { factsAsOf } from '../../../store/base/facts';
import { latestVolatile } from '../../../store/base/volatileValues';
import { readCatalogue } from '../../../store/catalogue';
import { deviceFilter } from '../../../store/deviceFilter';
import { releaseOrders, signatureSchemes } from '../../../store/releaseOrders';
import { readTargets } from '../../../store/targets';
import { byDevice } from './byDevice';
import type { Builder } from './rowBuilder';

const component = 'system';

/** May each device that has a target go to it, and why not. */
export const readiness: Builder = ({ db, survey, devices }) => {
  const targets = readTargets(db);
  const members = new Map(
    [...new Set(targets.map(({ group }) => group).filter(Boolean))].map((group) => [group, groupFilter(db, group)]),
  );
  const catalogue = readCatalogue(db);
  const volatiles = latestVolatile(db, survey, devices);
  const modules = byDevice(factsAsOf<ModuleFacts>(db, 'module', survey, devices));
  const software = byDevice(factsAsOf<SoftwareFacts>(db, 'software', survey, devices));
  const orderOf = ordersByLine(db, catalogue);
  return factsAsOf<DeviceFacts>(db, 'device', survey, devices)
    .flatMap(({ deviceId, content }) => {
      const target = targetOf(targets, content, (group) => members.get(group)?.(deviceId, content) ?? false);
      if (!target) return [];
      const own = modules.get(deviceId) ?? [];
      const { verdict, reasons } = judgeReadiness(
        {
          ...content,
          component,
          flashFreeBytes: volatiles.get(deviceId)?.flashFreeBytes ?? null,
          hardwareRevision:
            own.find((module) => module.class === 'chassis' && module.hardwareRevision !== '')?.hardwareRevision ?? '',
          parts: componentsOf(content, own, software.get(deviceId) ?? []),
        },
        target.release,
        catalogue,
        orderOf(content),
      );
      const telling = reasons.filter(({ kind }) => kind !== 'fits');
      return [
        {
          id: String(deviceId),
          deviceId,
          device: content.name,
          site: content.site,
          model: content.model,
          vendor: content.vendor,
          family: content.family,
          component: 'system software',
          current: content.release,
          target: target.release,
          targetGroup: target.group,
          verdict,
          reasons,
          why: (telling.length > 0 ? telling : reasons).map(({ words }) => words).join('; '),
        },
      ];
    })
    .sort((x, y) => compareNaturally(x.device, y.device));
};

/** In which order the releases of a device's family stand. */
function ordersByLine(
  db: Db,
  catalogue: readonly CatalogueRelease[],
): (device: Pick<DeviceFacts, 'vendor' | 'family' | 'release' | 'signature'>) => ReleaseOrder {
  const orders = releaseOrders(db);
  const schemes = signatureSchemes(db);
  const known = new Map<string, ReleaseOrder>();
  return ({ vendor, family, release, signature }) => {
    const key = [vendor, family, signature, release].join('\t');
    let order = known.get(key);
    if (!order) {
      const line = { vendor, family, component } as const;
      const own = catalogue.filter((one) => isSameLine(one, line)).map((one) => one.release);
      known.set(key, (order = orderFor([...own, release], orders, schemes.get(signature) ?? null)));
    }
    return order;
  };
}

/** Who is in a group; nobody where it cannot be read any more. */
function groupFilter(db: Db, group: string): ReturnType<typeof deviceFilter> {
  try {
    return deviceFilter(db, `group="${group}"`);
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return () => false;
  }
}

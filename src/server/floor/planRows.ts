import { roomAt, type PlanLayout } from '../../core/floor/floorPlan';
import type { Store } from '../../store/base/database';
import { listFloorPlans } from '../../store/floorPlans';
import { readOutlets } from '../../store/outlets';
import { thingRow } from '../query/query';
import { outletRows, type OutletRow } from './outletRows';

/** What stands on a plan, as it is at a survey. */
export interface PlanStanding {
  devices: { id: number; name: string; role: string; state: string; model: string }[];
  outlets: OutletRow[];
}

/** @returns what the marks of a plan mean; those of devices that were never surveyed or are gone have no name */
export function planStanding(store: Store, survey: number, { marks }: PlanLayout): PlanStanding {
  const ids = (kind: 'device' | 'outlet') => marks.filter((mark) => mark.kind === kind).map(({ id }) => id);
  return {
    devices: ids('device').map((id) => {
      const row = survey === 0 ? undefined : thingRow(store, 'devices', survey, null, String(id));
      return {
        id,
        name: String(row?.name ?? ''),
        role: String(row?.role ?? ''),
        state: String(row?.state ?? ''),
        model: [row?.vendor, row?.model].filter(Boolean).join(' '),
      };
    }),
    outlets: outletRows(store, survey, ids('outlet')),
  };
}

/** Where something is: the outlet a port leads to, and the plans on which that or the device stands. */
export interface Whereabouts {
  outlet: { id: number; site: string; label: string; room: string; panel: string; position: string } | null;
  plans: { id: number; site: string; name: string; room: string; kind: 'device' | 'outlet'; markId: number }[];
}

/** @param port null for the device itself */
export function whereabouts(store: Store, deviceId: number, port: string | null): Whereabouts {
  const found =
    port === null
      ? undefined
      : readOutlets(store.db).find((one) => one.port?.deviceId === deviceId && one.port.name === port);
  const plans = listFloorPlans(store.db).flatMap(({ id, site, name, layout }) => {
    const mark = layout.marks.find((one) =>
      one.kind === 'outlet' ? one.id === found?.id : !found && one.id === deviceId,
    );
    return mark
      ? [{ id, site, name, room: roomAt(mark.at, layout.rooms)?.name ?? '', kind: mark.kind, markId: mark.id }]
      : [];
  });
  return {
    outlet: found
      ? {
          id: found.id,
          site: found.site,
          label: found.label,
          room: found.room,
          panel: found.panel,
          position: found.position,
        }
      : null,
    plans,
  };
}

import { criticalities, type Criticality } from '../../core/applications/application';
import { singleStops } from '../../core/dependency/singleStops';
import { valueAt } from '../../core/tables/column';
import { compareNaturally } from '../../core/values/naturalOrder';
import { readApplications } from '../../store/applications';
import type { Store } from '../../store/base/database';
import { editStamp } from '../../store/edits/log';
import { tablesOf } from '../query/tables/estateTables';
import { slowTalkStamp } from '../query/talk/slowStamp';
import { dependenceAt, type Dependence } from './dependence';
import type { NamedThing } from './rehearsal';

export interface ToldStop extends NamedThing {
  applications: { id: string; name: string; criticality: Criticality }[];
  devices: number;
  endpoints: number;
}

/** What stands alone, what costs most first: by the applications that stop, the most critical before the others, then by devices and endpoints. */
export function singleStopRows(store: Store, survey: number): { survey: number; rows: ToldStop[] } {
  const stamp = `${slowTalkStamp(store.db)} ${editStamp(store.db, 'serviceRules', 'applications', 'saidNeeds')}`;
  return tablesOf(store).told(
    'single stops',
    survey,
    () => {
      const { rehearsals, providers, prepared, numberOf } = dependenceAt(store, survey);
      const applications = new Map(
        readApplications(store.db)
          .map((one) => [numberOf({ kind: 'application', id: String(one.id) }), one] as const)
          .filter(([at]) => at >= 0),
      );
      const itself = ownEndpoints(store, survey, numberOf);
      const rows = singleStops(rehearsals, [...applications.keys()], providers, (one) => itself.has(one)).map(
        ({ thing, stops, devices, endpoints }): ToldStop => ({
          ...(prepared.things[thing] ?? { kind: 'device', id: '', name: '' }),
          applications: stops
            .flatMap((at) => applications.get(at) ?? [])
            .map(({ id, name, criticality }) => ({ id: String(id), name, criticality }))
            .sort(
              (x, y) =>
                criticalities.indexOf(x.criticality) - criticalities.indexOf(y.criticality) ||
                compareNaturally(x.name, y.name),
            ),
          devices,
          endpoints,
        }),
      );
      const counts = (row: ToldStop) =>
        criticalities.map((criticality) => row.applications.filter((one) => one.criticality === criticality).length);
      rows.sort((x, y) => {
        const [one, other] = [counts(x), counts(y)];
        for (let at = 0; at < one.length; at++) if (one[at] !== other[at]) return (other[at] ?? 0) - (one[at] ?? 0);
        return y.devices - x.devices || y.endpoints - x.endpoints || compareNaturally(x.name, y.name);
      });
      return { survey, rows };
    },
    stamp,
  );
}

/** Endpoints that are devices of the estate, by their numbers. */
function ownEndpoints(store: Store, survey: number, numberOf: Dependence['numberOf']): Set<number> {
  const table = tablesOf(store).table('endpoints', survey, null);
  const [macs, own] = [table.column('mac'), table.column('ownDeviceId')];
  const found = new Set<number>();
  for (let row = 0; row < table.size; row++)
    if (Number(valueAt(own, row))) found.add(numberOf({ kind: 'endpoint', id: String(valueAt(macs, row)) }));
  return found;
}

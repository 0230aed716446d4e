import type { Store } from '../../store/base/database';
import type { ThingRow } from '../query/rows/rowBuilder';
import { tablesOf } from '../query/tables/estateTables';

/** Of each side so many are told: a name server is asked by everybody. */
const mostTold = 200;

/** With whom a device talks, those heard last first, and how many there are of each side. */
export function talkOf(
  store: Store,
  survey: number,
  deviceId: number,
): { conversations: ThingRow[]; talk: { asks: number; isAsked: number } } {
  const table = tablesOf(store).talk(survey);
  const last = table.lastSeconds();
  const [asks = [], isAsked = []] = (['client', 'server'] as const).map((end) => {
    const devices = table.devicesAt(end);
    const rows: number[] = [];
    for (let row = 0; row < devices.length; row++) if (devices[row] === deviceId) rows.push(row);
    return rows.sort((x, y) => (last[y] ?? 0) - (last[x] ?? 0) || x - y);
  });
  const told = new Set([...asks.slice(0, mostTold), ...isAsked.slice(0, mostTold)]);
  return { conversations: table.rows(told), talk: { asks: asks.length, isAsked: isAsked.length } };
}

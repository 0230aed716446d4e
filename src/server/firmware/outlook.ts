import { outlookOf, type JudgedRow, type Outlook, type Supposed } from '../../core/firmware/whatIf';
import type { Store } from '../../store/base/database';
import { fittingRows } from '../query/query';

/** Who becomes ready is told one by one so far. */
const shown = 200;

export type ToldOutlook = Omit<Outlook, 'becomes'> & {
  survey: number;
  becomes: { id: string; deviceId: number; device: string; model: string; target: string }[];
  becoming: number;
};

/** How those that a filter of readiness holds would stand if some of what holds them back were done. @throws FilterError */
export function readinessOutlook(store: Store, survey: number, where: string, supposed: Supposed): ToldOutlook {
  const { table, rows } = fittingRows(store, 'readiness', { survey, against: null, where });
  const { becomes, ...outlook } = outlookOf(table.rows(rows) as unknown as JudgedRow[], supposed);
  return {
    survey,
    ...outlook,
    becomes: becomes
      .slice(0, shown)
      .map(({ id, deviceId, device, model, target }) => ({ id, deviceId, device, model, target })),
    becoming: becomes.length,
  };
}

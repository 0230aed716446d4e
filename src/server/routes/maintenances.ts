import * as yup from 'yup';
import { asksForMaintenance } from '../../core/groups/group';
import { maintenanceState } from '../../core/groups/maintenance';
import { addMaintenance, readMaintenance } from '../../store/groups';
import { recordAct } from '../../store/people';
import { line } from '../access/line';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { withPlace } from '../things/ask';
import { surveyNumber } from '../things/moment';
import { tableAnswers } from '../tables/thread/tableAnswers';

const moment = (what: string) =>
  yup
    .string()
    .test(
      'moment',
      `${what} must be a moment like 2026-11-28T22:00:00Z`,
      (text) =>
        text === undefined ||
        text === null ||
        (/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}.*(Z|[+-]\d{2}:\d{2})$/.test(text) && !Number.isNaN(Date.parse(text))),
    );
const maintenanceSchema = yup
  .object({
    where: yup.string().required('Say which devices, as a filter').max(4000),
    reason: line('What is done').required('Say what is done').max(200),
    from: moment('The start').required('Say when it begins'),
    until: moment('The end').nullable(),
  })
  .noUnknown();

export const GET = route('viewer', null, ({ store }) => {
  const now = new Date().toISOString();
  const rows = readMaintenance(store.db)
    .map((row) => ({ ...row, state: maintenanceState(row, now) }))
    .reverse();
  return { rows, total: rows.length };
});

export const POST = route(
  'operator',
  maintenanceSchema,
  async ({ store, person, body: { where: written, reason, from, until = null } }) => {
    const where = written.trim();
    if (until !== null && Date.parse(until) <= Date.parse(from))
      throw invalid([{ path: 'until', message: 'It ends before it begins' }]);
    const survey = surveyNumber(store.db, 'latest') ?? 0;
    const { total } = await withPlace(() =>
      tableAnswers(store).ask('query', 'devices', { survey, against: null, where, sort: [], page: 1, size: 1 }),
    );
    if (asksForMaintenance(where))
      throw invalid([{ path: 'where', message: 'Maintenance cannot depend on maintenance' }]);
    const id = addMaintenance(store.db, {
      where,
      reason,
      from: new Date(from).toISOString(),
      until: until === null ? null : new Date(until).toISOString(),
      by: person.name,
    });
    recordAct(store.db, person.name, 'set maintenance', `${where}: ${reason}`);
    return { id, devices: total };
  },
);

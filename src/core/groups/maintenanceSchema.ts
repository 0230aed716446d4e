import * as yup from 'yup';
import { line } from '../values/line';

const momentForm = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}.*(Z|[+-]\d{2}:\d{2})$/;
const isMoment = (text?: string | null) =>
  text === undefined || text === null || (momentForm.test(text) && !Number.isNaN(Date.parse(text)));
const moment = (what: string) =>
  yup.string().test('moment', `${what} must be a moment like 2026-11-28T22:00:00Z`, isMoment);
/** A time of maintenance as it is set. */
export const maintenanceSchema = yup
  .object({
    where: yup.string().required('Say which devices, as a filter').max(4000),
    reason: line('What is done').required('Say what is done').max(200),
    from: moment('The start').required('Say when it begins'),
    until: moment('The end').nullable(),
  })
  .noUnknown();

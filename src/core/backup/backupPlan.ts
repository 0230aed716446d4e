import * as yup from 'yup';

/** When the data are copied by the clock, and how many of the copies are kept. */
export interface BackupPlan {
  on: boolean;
  /** hour and minute by the clock of the machine: `03:30` */
  at: string;
  /** the newest so many are kept */
  keep: number;
}

export const usualPlan: BackupPlan = { on: true, at: '03:30', keep: 7 };

export const backupPlanSchema = yup
  .object({
    on: yup.boolean().required(),
    at: yup
      .string()
      .required('Say when')
      .matches(/^([01]\d|2[0-3]):[0-5]\d$/, 'Write the time like 03:30'),
    keep: yup
      .number()
      .typeError('must be a whole number from 1 to 100')
      .integer('must be a whole number from 1 to 100')
      .min(1, 'must be a whole number from 1 to 100')
      .max(100, 'must be a whole number from 1 to 100')
      .required(),
  })
  .noUnknown();

/**
 * Whether a copy is due: the latest hour of the plan is past, and nothing was copied since.
 * @param last when the newest copy was made, or (before there is any) since when there are data
 */
export function isBackupDue({ on, at }: BackupPlan, last: Date, now: Date): boolean {
  if (!on) return false;
  const [hour = 0, minute = 0] = at.split(':').map(Number);
  const latest = new Date(now);
  latest.setHours(hour, minute, 0, 0);
  if (latest > now) latest.setDate(latest.getDate() - 1);
  return last < latest;
}

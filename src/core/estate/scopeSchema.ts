import * as yup from 'yup';
import { line } from '../values/line';
import type { ScopeText } from './scope';

const lines = (longest = 200, most = 500) => yup.array(yup.string().required().max(longest)).max(most);
const fields = yup
  .object({
    name: line('The name').required('Give the scope a name').max(60),
    ranges: lines().required(),
    exclusions: lines().required(),
    translations: lines().required(),
    credentials: lines().required(),
    writeCredentials: lines(200, 50).default([]),
    port: yup.number().required(),
    httpsPort: yup.number().default(443),
    timeoutMs: yup.number().required(),
    retries: yup.number().required(),
    concurrency: yup.number().required(),
    deviceSeconds: yup.number().default(30),
    largestPrefix: yup.number().required(),
    neighbourSteps: yup.number().default(0),
    defaultCommunities: yup.boolean().default(false),
    collectors: lines(60, 50).default([]),
    wakeRanges: lines().default([]),
    schedule: yup.string().max(1000).default(''),
    quietHours: lines(40, 20).default([]),
    authorities: yup.string().max(200_000).default(''),
    group: yup.string().max(60).default(''),
    neighbourWithin: lines().default([]),
  })
  .noUnknown();
/** A scope as it is entered. What it says is read by `readScope`. */
export const scopeSchema = fields as yup.Schema<ScopeText>;

/** What of a scope only the program can judge: by what is kept, by the clock, by what reads certificates. */
export type JudgedScope = Pick<
  ScopeText,
  'name' | 'schedule' | 'credentials' | 'writeCredentials' | 'group' | 'collectors' | 'authorities'
> & { id: number | null };
/** That part of a scope as it is being written, under its number if it has one. */
export const judgedScopeSchema = fields
  .pick(['schedule', 'credentials', 'writeCredentials', 'group', 'collectors', 'authorities'])
  .shape({ id: yup.number().integer().nullable().default(null), name: yup.string().max(200).default('') })
  .noUnknown() as yup.Schema<JudgedScope>;

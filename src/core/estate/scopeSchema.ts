import * as yup from 'yup';
import { line } from '../values/line';
import type { ScopeText } from './scope';

const lines = (longest = 200, most = 500) => yup.array(yup.string().required().max(longest)).max(most);
/** A scope as it is entered. What it says is read by `readScope`. */
export const scopeSchema = yup
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
  .noUnknown() as yup.Schema<ScopeText>;

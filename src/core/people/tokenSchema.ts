import * as yup from 'yup';
import { line } from '../values/line';
import { roleNames } from './roles';

/** A token as it is made for a script. */
export const tokenSchema = yup
  .object({
    name: line('The name').required('Say what it is for').max(60),
    role: yup
      .string()
      .oneOf(roleNames, `must be one of ${roleNames.join(', ')}`)
      .required(),
    expiresOn: yup
      .string()
      .nullable()
      .matches(/^\d{4}-\d\d-\d\d$/, { message: 'Write the day like 2026-11-23', excludeEmptyString: true }),
  })
  .noUnknown();

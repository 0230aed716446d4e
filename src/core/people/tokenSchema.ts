import * as yup from 'yup';
import { line } from '../values/line';
import { areaNames } from './areas';
import { roleNames } from './roles';

/** A token as it is made for a script. */
export const tokenSchema = yup
  .object({
    name: line('The name').required('Say what it is for').max(60),
    role: yup
      .string()
      .oneOf(roleNames, `must be one of ${roleNames.join(', ')}`)
      .required(),
    /** the parts of the API it opens; none said is all of them */
    areas: yup
      .array()
      .of(
        yup
          .string()
          .oneOf(areaNames, ({ value }) => `“${String(value)}” is no part of the API: use ${areaNames.join(', ')}`)
          .required(),
      )
      .min(1, 'Choose at least one part, or all')
      .nullable(),
    expiresOn: yup
      .string()
      .nullable()
      .matches(/^\d{4}-\d\d-\d\d$/, { message: 'Write the day like 2026-11-23', excludeEmptyString: true }),
  })
  .noUnknown();

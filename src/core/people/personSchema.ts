import * as yup from 'yup';
import { roleNames } from './roles';

/** A person as an administrator adds one. */
export const personSchema = yup
  .object({
    name: yup.string().required('Give a name'),
    password: yup.string().required('Give a password'),
    role: yup
      .string()
      .oneOf([...roleNames])
      .required(),
  })
  .noUnknown();

/** What an administrator changes of a person: what is not said stays. */
export const personChangeSchema = yup
  .object({
    name: yup.string(),
    role: yup.string().oneOf([...roleNames]),
    disabled: yup.boolean(),
  })
  .noUnknown();

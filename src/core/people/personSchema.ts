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

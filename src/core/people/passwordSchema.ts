import * as yup from 'yup';

/** Another password of one’s own: the one before says that it is oneself. */
export const passwordSchema = yup
  .object({
    current: yup.string().required('Give the password you have'),
    password: yup.string().required('Give the new password'),
    confirmation: yup.string().required('Give it once more'),
  })
  .noUnknown();

/** Both are written alike, so that a slip locks nobody out. */
export const differs = ({ password, confirmation }: { password: string; confirmation: string }) =>
  password === confirmation ? [] : [{ path: 'confirmation', message: 'The two passwords differ' }];

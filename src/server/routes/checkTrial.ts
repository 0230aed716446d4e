import * as yup from 'yup';
import { route } from '../access/route';
import { checkOf, examinedCheck, ruleShape } from './checks';

export const POST = route('operator', yup.object(ruleShape).noUnknown(), ({ store, body }) =>
  examinedCheck(store, checkOf('', { name: '', severity: 'minor', ...body })),
);

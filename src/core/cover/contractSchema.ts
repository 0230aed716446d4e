import * as yup from 'yup';
import { line } from '../values/line';
import { contractKinds } from './contract';

const day = yup.string().nullable();
const noKind = ({ value }: { value?: unknown }) => `“${String(value)}” is none of ${contractKinds.join(', ')}`;
/** A contract as it is entered. */
export const contractSchema = yup
  .object({
    number: line('The number').required('A contract needs its number'),
    kind: yup.string().oneOf(contractKinds, noKind).required(),
    supplier: line('The supplier'),
    level: line('The promise'),
    contact: line('Whom to call'),
    from: day,
    until: day,
    parts: yup.boolean(),
    note: yup.string(),
    serials: yup
      .array(yup.string().trim('has blanks at its ends').required('is empty'))
      .required('Say which serials it covers'),
  })
  .noUnknown();

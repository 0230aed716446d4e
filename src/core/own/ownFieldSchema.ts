import * as yup from 'yup';
import { line } from '../values/line';
import { ownedThings, ownKinds } from './ownField';

const notOwned = ({ value }: { value?: unknown }) =>
  `“${String(value)}” has no own fields: use ${ownedThings.join(', ')}`;
/** A thing that has own fields. */
export const ownedThing = () => yup.string().oneOf(ownedThings, notOwned).required();
const noKind = ({ value }: { value?: unknown }) => `“${String(value)}” is no kind: use ${ownKinds.join(', ')}`;
/** An own field as it is made. */
export const fieldSchema = yup
  .object({
    thing: ownedThing(),
    label: line('The heading').required('Give the field a heading').max(40),
    name: line('The name'),
    kind: yup.string().oneOf(ownKinds, noKind).required(),
    choices: yup.array(line('A word').required('A choice has at least one letter').max(60)).max(100),
  })
  .noUnknown();

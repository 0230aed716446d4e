import * as yup from 'yup';
import { line } from '../values/line';
import { groupedThings } from './group';

const mostMembers = 50_000;
const ungrouped = ({ value }: { value?: unknown }) =>
  `“${String(value)}” cannot be grouped: use ${groupedThings.join(', ')}`;
/** Ids of rows. */
export const rowIds = () => yup.array(yup.string().required()).max(mostMembers);
/** A group as it is entered. */
export const groupSchema = yup
  .object({
    name: line('The name')
      .required('Give the group a name')
      .max(60)
      .matches(/^[^"]*$/, 'A name has no quotation marks'),
    thing: yup.string().oneOf(groupedThings, ungrouped).required(),
    kind: yup
      .string()
      .oneOf(['fixed', 'filter'] as const, 'must be fixed or filter')
      .required(),
    where: yup.string().max(4000),
    members: rowIds(),
    within: yup.string().nullable(),
    note: yup.string().max(500),
  })
  .noUnknown();

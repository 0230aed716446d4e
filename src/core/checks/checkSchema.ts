import * as yup from 'yup';
import { thingNames } from '../things/things';
import { line } from '../values/line';
import { mayBeChecked, severities } from './check';

const things = thingNames.filter(mayBeChecked);
const unchecked = ({ value }: { value?: unknown }) => `“${String(value)}” cannot be checked: use ${things.join(', ')}`;
const ruleShape = {
  thing: yup.string().oneOf(things, unchecked).required(),
  where: yup.string().required('Say what must not be there, as a filter').max(4000),
  scope: yup.string().max(4000),
};
/** A rule alone, to be tried. */
export const ruleSchema = yup.object(ruleShape).noUnknown();
/** A check as it is entered. */
export const checkSchema = yup
  .object({
    ...ruleShape,
    name: line('The name').required('Give the check a name').max(120),
    severity: yup
      .string()
      .oneOf(severities, `must be one of ${severities.join(', ')}`)
      .required(),
    why: yup.string().max(500),
    remedy: yup.string().max(500),
    on: yup.boolean(),
  })
  .noUnknown();

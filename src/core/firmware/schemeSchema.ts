import * as yup from 'yup';
import { ReleaseOrder, type ReleaseScheme } from './scheme';

const names = yup.array(yup.string().trim().max(40).required()).max(20, 'no more than 20');

export const schemeSchema = yup
  .object({
    id: yup
      .string()
      .required('needs an id')
      .matches(/^[a-z0-9][a-z0-9-]{0,39}$/, 'small letters, digits and hyphens'),
    name: yup.string().trim().max(80, 'no more than 80 characters').required('say what it is called'),
    form: yup.string().max(200, 'no more than 200 characters').required('say how its releases are written'),
    train: names.required('name the fields that make a train, or none as []'),
    weight: names,
    examples: yup
      .array(yup.string().max(120).required())
      .min(2, 'two releases at least, the older first')
      .max(50, 'no more than 50')
      .required('give some releases in their order'),
  })
  .noUnknown(({ unknown }: { unknown: string }) => `knows no ${unknown}`);

/** What is wrong with a scheme, a line each: its fields, its form, its own examples. Empty where nothing is. */
export function schemeMistakes(told: unknown): string[] {
  let scheme: ReleaseScheme;
  try {
    scheme = schemeSchema.validateSync(told, { abortEarly: false, strict: true }) as ReleaseScheme;
  } catch (error) {
    const { inner, message } = error as yup.ValidationError;
    return inner.length > 0 ? inner.map((one) => `${one.path ? `${one.path}: ` : ''}${one.message}`) : [message];
  }
  let order: ReleaseOrder;
  try {
    order = new ReleaseOrder(scheme);
  } catch (error) {
    return [`form: ${(error as Error).message}`];
  }
  const unlike = scheme.examples.filter((release) => !order.fits(release));
  if (unlike.length > 0) return [`examples: ${unlike.join(', ')} is not written as ${scheme.form}`];
  return scheme.examples.slice(1).flatMap((later, at) => {
    const earlier = scheme.examples[at] ?? '';
    return order.compare(earlier, later) < 0 ? [] : [`examples: ${later} does not come after ${earlier}`];
  });
}

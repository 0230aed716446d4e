import * as yup from 'yup';
import { roles } from '../estate/facts';
import { physicalClasses } from '../mib/entity';
import { readingSchema } from './reading';
import { patternMistake } from '../values/linearPattern';
import { extraFacts, type Signature } from './signature';
import { updateOverRestconfSchema } from './updateOverRestconf';

const pattern = () =>
  yup
    .string()
    .max(300)
    .test('pattern', (value, context) => {
      const mistake = value === undefined ? null : patternMistake(value);
      return mistake === null || context.createError({ message: mistake });
    });
const objectId = () =>
  yup
    .string()
    .matches(
      /^\d+(\.\d+)+$/,
      ({ value }) => `“${String(value)}” is no object identifier: write it like 1.3.6.1.4.1.59101.1`,
    );
const extraction = () =>
  yup
    .object({
      literal: yup.string(),
      description: pattern(),
      chassis: yup.string().oneOf(['model', 'softwareRevision', 'firmwareRevision', 'serial']),
    })
    .noUnknown()
    .default(undefined)
    .test(
      'one',
      'say one of literal, description, chassis',
      (value) => value === undefined || Object.values(value).filter((part) => part !== undefined).length === 1,
    );
const extraObject = () =>
  yup
    .object({
      oid: objectId().required('oid is missing'),
      multiplyBy: yup.number().positive(),
      values: yup.object().optional(),
    })
    .noUnknown()
    .default(undefined);

/** A signature as a data file or a person writes it. Unknown fields are refused, so that a slip of the pen is seen. */
export const signatureSchema = yup
  .object({
    id: yup
      .string()
      .required('id is missing')
      .matches(/^[a-z0-9][a-z0-9-]*$/, 'id: small letters, digits and hyphens')
      .max(60),
    order: yup
      .number()
      .integer()
      .min(0)
      .max(10_000)
      .required('order is missing: lower is tried first, the generic one has 1000'),
    match: yup
      .object({ objectId: objectId(), description: pattern(), chassisModel: pattern(), manufacturer: pattern() })
      .noUnknown()
      .required('match is missing'),
    vendor: yup.string().defined('vendor is missing').max(80),
    role: yup
      .string()
      .oneOf([...roles], ({ value }) => `“${String(value)}” is no role: use ${roles.join(', ')}`)
      .required('role is missing'),
    family: extraction(),
    model: extraction(),
    release: extraction(),
    serial: extraction(),
    scheme: yup.string().max(40),
    objects: yup
      .object(Object.fromEntries(extraFacts.map((fact) => [fact, extraObject()])))
      .noUnknown()
      .default(undefined),
    readings: yup.array(readingSchema).max(100),
    moduleMemory: yup
      .object({
        column: objectId().required('moduleMemory.column is missing'),
        class: yup
          .string()
          .oneOf([...physicalClasses])
          .required('moduleMemory.class is missing'),
        name: pattern(),
        multiplyBy: yup.number().positive(),
      })
      .noUnknown()
      .default(undefined),
    ports: yup
      .object({
        disabledBy: yup
          .object({
            column: objectId().required('ports.disabledBy.column is missing'),
            values: yup.object().required('ports.disabledBy.values is missing: words by number'),
          })
          .noUnknown()
          .default(undefined),
        watts: yup
          .object({ column: objectId().required('ports.watts.column is missing'), multiplyBy: yup.number().positive() })
          .noUnknown()
          .default(undefined),
      })
      .noUnknown()
      .default(undefined),
    contexts: yup
      .object({ of: yup.string().oneOf(['logical entities', 'vlans']).required(), name: yup.string() })
      .noUnknown()
      .default(undefined),
    update: yup.object({ restconf: updateOverRestconfSchema.required() }).noUnknown().default(undefined),
    faceplate: yup
      .object({ rows: yup.number().oneOf([1, 2]).required(), groupOf: yup.number().integer().positive() })
      .noUnknown()
      .default(undefined),
  })
  .noUnknown();

/** The signature, or every mistake with its path. */
export function readSignature(
  value: unknown,
): { signature: Signature } | { mistakes: { path: string; message: string }[] } {
  try {
    return {
      signature: signatureSchema.validateSync(value, { abortEarly: false, strict: true }) as unknown as Signature,
    };
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    const list = error.inner.length > 0 ? error.inner : [error];
    return { mistakes: list.map(({ path, message }) => ({ path: path ?? '', message })) };
  }
}

import * as yup from 'yup';
import type { ReadingValue } from '../estate/facts';
import { splitResource } from '../resources/jsonPointer';

/** One measured value to see over time: where it is read, a factor, its unit, and between which bounds it is well. */
export interface Reading {
  name: string;
  /** instance of an SNMP object; else `resource` */
  oid?: string;
  /** resource of Redfish or RESTCONF with the place in it: `/redfish/v1/Chassis/1/Thermal#/Temperatures/0/ReadingCelsius` */
  resource?: string;
  unit?: string;
  multiplyBy?: number;
  above?: number;
  below?: number;
}

/** A reading that a person wants of every device a filter finds. */
export interface ReadingRule extends Reading {
  /** over the fields of devices, in the filter language; empty for all */
  where: string;
}

const readingFields = {
  name: yup.string().trim().required('a reading needs a name').max(60),
  oid: yup
    .string()
    .matches(
      /^\d+(\.\d+)+$/,
      ({ value }) => `“${String(value)}” is no object identifier: write it like 1.3.6.1.4.1.59101.1.0`,
    ),
  resource: yup
    .string()
    .max(500)
    .test(
      'resource',
      ({ value }) =>
        `“${String(value)}” is no place in a resource: write it like /redfish/v1/Chassis/1/Power#/PowerControl/0/PowerConsumedWatts`,
      (value) => value === undefined || splitResource(value) !== null,
    ),
  unit: yup.string().max(20),
  multiplyBy: yup.number(),
  above: yup.number(),
  below: yup.number(),
};
const oneSource = <Fields extends { oid?: unknown; resource?: unknown }>({ oid, resource }: Fields) =>
  (oid === undefined) !== (resource === undefined);
const oneSourceWords = 'say where it is read: either oid or resource';

export const readingSchema = yup.object(readingFields).noUnknown().test('one', oneSourceWords, oneSource);
export const readingRuleSchema = yup
  .object({
    ...readingFields,
    where: yup.string().max(1000).defined('where is missing: a filter over devices, empty for all'),
  })
  .noUnknown()
  .test('one', oneSourceWords, oneSource);

/** A number as it was read, with the reading's factor and bounds. Null where no number was answered; agents that have no integers for them write text. */
export function readingValue(
  { name, unit = '', multiplyBy = 1, above, below }: Reading,
  answered: number | string | null | undefined,
): ReadingValue | null {
  const number = typeof answered === 'number' ? answered : Number.parseFloat(answered ?? '');
  if (!Number.isFinite(number)) return null;
  // without the noise that a binary fraction leaves in the last digits
  return {
    name,
    value: Number((number * multiplyBy).toPrecision(12)),
    unit,
    ...(above !== undefined && { above }),
    ...(below !== undefined && { below }),
  };
}

/** Of several readings with one name the last counts: what a person added stands behind what a signature has. */
export function withoutNamesakes(readings: Reading[]): Reading[] {
  return [...new Map(readings.map((reading) => [reading.name, reading])).values()];
}

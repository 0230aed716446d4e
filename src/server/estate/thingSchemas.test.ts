import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { thingNames } from '../../core/things/things';
import { thingRows } from '../query/query';
import { rowSchema } from './thingSchemas';

let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample({ steps: [1, 2, 8] });
});
afterAll(() => sample.close());

const ajv = new Ajv2020({ strict: false });

test.each(thingNames)('rows of %s are as they are described', (name) => {
  const fits = ajv.compile(rowSchema(name));
  const faults = thingRows(sample.store, name, 3, null).flatMap((row) =>
    fits(row) ? [] : [`${String(row.id)} ${ajv.errorsText(fits.errors)}`],
  );
  expect(faults.slice(0, 5)).toEqual([]);
});

import { expect, test } from '@jest/globals';
import type { Json } from '../resources/json';
import { interpretRedfish } from '../resources/redfish';
import { readingRuleSchema, readingSchema, readingValue, withoutNamesakes } from './reading';
import { recogniseReport } from './recogniseReport';
import type { Signature } from './signature';

test('a value has its factor and its unit, and no noise of binary fractions', () => {
  expect(readingValue({ name: 'load', multiplyBy: 0.1, unit: '%', above: 80 }, 3)).toEqual({
    name: 'load',
    value: 0.3,
    unit: '%',
    above: 80,
  });
  expect(readingValue({ name: 'load' }, ' 21.5 C')).toEqual({ name: 'load', value: 21.5, unit: '' });
  expect([
    readingValue({ name: 'load' }, 'unknown'),
    readingValue({ name: 'load' }, undefined),
    readingValue({ name: 'load' }, null),
  ]).toEqual([null, null, null]);
});

test('it is read at one place: an object or a resource', () => {
  const mistake = (value: object) => {
    try {
      readingSchema.validateSync(value, { strict: true });
      return '';
    } catch (error) {
      return (error as Error).message;
    }
  };
  expect(mistake({ name: 'load', oid: '1.3.6.1.4.1.59101.1.0' })).toBe('');
  expect(mistake({ name: 'watts', resource: '/redfish/v1/Chassis/1/Power#/PowerControl/0/PowerConsumedWatts' })).toBe(
    '',
  );
  expect(mistake({ name: 'both', oid: '1.3', resource: '/a#/b' })).toMatch(/either oid or resource/);
  expect(mistake({ name: 'neither' })).toMatch(/either oid or resource/);
  expect(mistake({ name: 'odd', oid: 'ifDescr.1' })).toMatch(/no object identifier/);
  expect(mistake({ name: 'odd', resource: '/redfish/v1/Chassis' })).toMatch(/no place in a resource/);
  expect(() => readingRuleSchema.validateSync({ name: 'load', oid: '1.3' }, { strict: true })).toThrow(
    /where is missing/,
  );
});

test('of two with one name the one that was added counts', () => {
  expect(
    withoutNamesakes([
      { name: 'load', oid: '1.1' },
      { name: 'heat', oid: '1.2' },
      { name: 'load', oid: '1.3' },
    ]),
  ).toEqual([
    { name: 'load', oid: '1.3' },
    { name: 'heat', oid: '1.2' },
  ]);
});

test('a server that only its management controller told of is recognised by its maker and model', () => {
  const tree = new Map(
    Object.entries<Json>({
      '/redfish/v1/Systems': { Members: [{ '@odata.id': '/redfish/v1/Systems/1' }] },
      '/redfish/v1/Systems/1': {
        Name: 'System',
        HostName: 'sgh-srv-09',
        Manufacturer: 'Brannick',
        Model: 'Brannick R2',
        SerialNumber: 'BR2-1',
      },
    }),
  );
  const told = interpretRedfish({ resources: tree, gaps: [] }, { address: '10.72.2.19', credential: 'hardware' });
  if (!told) throw new Error('nothing was told');
  const signature = (id: string, match: Signature['match'], more: Partial<Signature> = {}): Signature => ({
    id,
    order: 1,
    match,
    vendor: '',
    role: 'unknown',
    ...more,
  });
  const as = (...signatures: Signature[]) => recogniseReport(told.report, signatures).device;
  expect(as(signature('generic', {}), signature('by-object', { objectId: '1.3.6.1.4.1.59103' }))).toMatchObject({
    signature: 'redfish',
    role: 'server',
    vendor: 'Brannick',
  });
  expect(
    as(
      signature(
        'r2',
        { manufacturer: '^brannick$', chassisModel: 'R2$' },
        { family: { literal: 'R-series' }, role: 'hypervisor' },
      ),
    ),
  ).toMatchObject({
    signature: 'r2',
    role: 'hypervisor',
    family: 'R-series',
    model: 'Brannick R2',
    vendor: 'Brannick',
    serial: 'BR2-1',
  });
  expect(as(signature('r1', { manufacturer: 'brannick', chassisModel: 'R1$' }))).toMatchObject({
    signature: 'redfish',
  });
});

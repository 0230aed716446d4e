import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { openSample, type SampleStore } from '../../../e2e/support/sampleStore';
import { readSignature } from '../../core/signatures/signatureSchema';
import { startedSignature } from '../../core/signatures/startedSignature';
import { readSignatures, saveSignature } from '../../store/programFiles';
import { signatureList, trySignature } from './signatures';

let sample: SampleStore;
beforeAll(async () => {
  sample = await openSample();
  await sample.fleet.moveTo(1);
  await sample.survey({}, { ranges: ['10.72.0.1-2', '10.72.4.1-2', '10.72.1.40'] });
});
afterAll(() => sample.close());

describe('a signature that a person writes', () => {
  test('those that come with the program are all well formed', () => {
    const folder = path.join(process.env.BOLIDE_HOME ?? process.cwd(), 'signatures');
    for (const file of readdirSync(folder))
      expect([file, readSignature(JSON.parse(readFileSync(path.join(folder, file), 'utf8')))]).toEqual([
        file,
        { signature: expect.objectContaining({ id: file.replace('.json', '') }) },
      ]);
  });
  test.each([
    [{ id: 'x', order: 1, match: {}, vendor: '' }, 'role'],
    [{ id: 'X Y', order: 1, match: {}, vendor: '', role: 'switch' }, 'id'],
    [{ id: 'x', order: 1, match: { description: '(' }, vendor: '', role: 'switch' }, 'match.description'],
    [{ id: 'x', order: 1, match: { objectId: '1.3.x' }, vendor: '', role: 'switch' }, 'match.objectId'],
    [{ id: 'x', order: 1, match: {}, vendor: '', role: 'toaster' }, 'role'],
    [{ id: 'x', order: 1, match: {}, vendor: '', role: 'switch', modle: { literal: 'a' } }, ''],
    [{ id: 'x', order: 1, match: {}, vendor: '', role: 'switch', model: { literal: 'a', description: 'b' } }, 'model'],
    ['text', ''],
  ])('%j is refused at its place', (value, place) => {
    const read = readSignature(value);
    expect('mistakes' in read && read.mistakes.map(({ path: at }) => at)).toContain(place);
  });
  test('is tried on what is known without being saved: whom it would take, and what it would say otherwise', () => {
    const trial = trySignature(sample.store, {
      id: 'mine',
      order: 1,
      match: { objectId: '1.3.6.1.4.1.59101.1.48' },
      vendor: 'Kestrane',
      role: 'router',
      model: { literal: 'mine' },
      release: { description: 'release ([^,]+)' },
    });
    expect(trial.rows).toMatchObject([
      {
        device: 'rpw-plat',
        now: 'kestrane-access',
        role: 'router',
        model: 'mine',
        release: '7.4.9',
        serial: 'KA48-90117',
        differs: ['role', 'family', 'model'],
      },
    ]);
    expect(readSignatures(sample.store.folder).some(({ id }) => id === 'mine')).toBe(false);
    expect(trySignature(sample.store, { id: 'nobody', order: 2000, match: {}, vendor: '', role: 'host' }).total).toBe(
      0,
    );
  });
  test('saved, it recognises devices from the next survey on', async () => {
    saveSignature(sample.store.folder, {
      id: 'mine',
      order: 1,
      match: { objectId: '1.3.6.1.4.1.59106' },
      vendor: 'Fenmoor',
      role: 'power',
      model: { literal: 'Power unit' },
    });
    await sample.survey({ signatures: readSignatures(sample.store.folder) }, { ranges: ['10.72.1.40'] });
    expect(signatureList(sample.store).rows.find(({ id }) => id === 'mine')?.devices).toBe(1);
  });
});

test('for a device that nobody knows a signature is begun that is well formed and takes that device', () => {
  const device = {
    objectId: '1.3.6.1.4.1.59199.7.2',
    description: 'Bellwether 12 (edge), Version 3.1.4a, built by night',
    model: '',
    vendor: '',
    role: 'switch' as const,
    name: 'hdp-edge-9',
  };
  const started = startedSignature(device);
  expect(readSignature(started)).toEqual({ signature: started });
  expect(started).toMatchObject({ id: 'hdp-edge-9', match: { objectId: device.objectId } });
  expect(
    new RegExp(started.release && 'description' in started.release ? started.release.description : '').exec(
      device.description,
    )?.[1],
  ).toBe('3.1.4a');
  expect(startedSignature({ ...device, objectId: '' }).match).toEqual({ description: 'Bellwether 12 \\(edge\\)' });
});

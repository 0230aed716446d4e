import { describe, expect, test } from '@jest/globals';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { roles } from '../estate/facts';
import type { PhysicalRow } from '../mib/entity';
import type { SystemGroup } from '../mib/system';
import { chooseSignature, countedMemory, recognise, type Signature } from './signature';

const system = (more: Partial<SystemGroup> = {}): SystemGroup => ({
  description: 'Kestrane K-Access 48, release 7.4.9, boot 3.2',
  objectId: '1.3.6.1.4.1.59101.1.48',
  uptimeSeconds: 1,
  contact: '',
  name: 'rpw-plat',
  location: '',
  services: 2,
  engineId: null,
  ...more,
});
const signature = (id: string, order: number, more: Partial<Signature> = {}): Signature => ({
  id,
  order,
  match: {},
  vendor: '',
  role: 'unknown',
  ...more,
});
const chassis = {
  class: 'chassis',
  vendor: 'Kestrane',
  model: 'KA48',
  description: 'K-Access 48 chassis',
  serial: 'KA48-1',
  softwareRevision: '7.4.9',
  firmwareRevision: '3.2',
} as PhysicalRow;

describe('choosing a signature', () => {
  const list = [
    signature('generic', 1000),
    signature('family', 20, { match: { objectId: '1.3.6.1.4.1.59101.1' } }),
    signature('model', 10, { match: { objectId: '1.3.6.1.4.1.59101.1.48' } }),
  ];
  const chosen = (more: Partial<SystemGroup>) => chooseSignature(list, system(more))?.id;
  test('the more specific one comes first by its order, whatever the order of the files', () => {
    expect([chosen({}), chooseSignature([...list].reverse(), system())?.id]).toEqual(['model', 'model']);
    expect(chosen({ objectId: '1.3.6.1.4.1.59101.1.24' })).toBe('family');
  });
  test('an object id matches by whole numbers, never by its first digits', () => {
    expect(chosen({ objectId: '1.3.6.1.4.1.59101.14' })).toBe('generic');
    expect(chosen({ objectId: '' })).toBe('generic');
  });
  test('the description must fit too where one is asked for', () => {
    const both = [...list, signature('boot', 1, { match: { objectId: '1.3.6.1.4.1.59101.1', description: 'BOOT 2' } })];
    expect([
      chooseSignature(both, system())?.id,
      chooseSignature(both, system({ description: 'x, boot 2.1' }))?.id,
    ]).toEqual(['model', 'boot']);
  });
  test('no list, no signature', () => expect(chooseSignature([], system())).toBeNull());
});

describe('what a signature reads', () => {
  test('a literal, a group of the description, a column of the chassis', () => {
    const read = recognise(
      signature('s', 1, {
        vendor: 'Kestrane',
        role: 'switch',
        family: { literal: 'K-Access' },
        model: { description: '(K-Access \\d+)' },
        release: { description: 'release (?<value>\\S+?),' },
        serial: { chassis: 'serial' },
        scheme: 'dotted-letter',
      }),
      system(),
      [chassis],
    );
    expect(read).toEqual({
      signature: 's',
      vendor: 'Kestrane',
      role: 'switch',
      family: 'K-Access',
      model: 'K-Access 48',
      release: '7.4.9',
      serial: 'KA48-1',
      scheme: 'dotted-letter',
    });
  });
  test('what the description does not say comes from the chassis, else it is empty, never invented', () => {
    const asks = signature('s', 1, { release: { description: 'version (\\S+)' }, serial: { chassis: 'serial' } });
    expect(recognise(asks, system(), [chassis])).toMatchObject({ release: '7.4.9', vendor: 'Kestrane', model: 'KA48' });
    expect(recognise(asks, system(), [])).toMatchObject({ release: '', vendor: '', model: '', serial: '' });
  });
  test.each([
    [2, 'switch'],
    [6, 'switch'],
    [4, 'router'],
    [72, 'host'],
    [78, 'host'],
    [0, 'unknown'],
    [null, 'unknown'],
  ])('sysServices %p of an unknown device means %s', (services, role) => {
    expect(recognise(signature('s', 1), system({ services }), []).role).toBe(role);
  });
});

describe('the memory that counts', () => {
  const module = (entPhysicalIndex: number, name: string, kind: PhysicalRow['class'] = 'module') => ({
    ...chassis,
    entPhysicalIndex,
    name,
    class: kind,
    description: '',
  });
  const modules = [
    module(1, 'box', 'chassis'),
    module(5, 'Supervisor A'),
    module(6, 'Supervisor B'),
    module(7, 'Line card'),
  ];
  const sizes = new Map([
    [1, 8192],
    [5, 4096],
    [6, 2048],
    [7, 512],
  ]);
  test('is the smallest of the modules that are meant, never the chassis’ nor another card’s', () => {
    expect(
      countedMemory({ moduleMemory: { column: '1.2', class: 'module', name: 'supervisor' } }, modules, sizes),
    ).toBe(2048);
    expect(countedMemory({}, modules, sizes)).toBeNull();
    expect(
      countedMemory({ moduleMemory: { column: '1.2', class: 'module', name: 'routing engine' } }, modules, sizes),
    ).toBeNull();
  });
  test('a signature may ask for the chassis’ model, which is known only later', () => {
    const list = [signature('by chassis', 1, { match: { chassisModel: '^KA48' } }), signature('generic', 1000)];
    expect([
      chooseSignature(list, system())?.id,
      chooseSignature(list, system(), { model: 'KA48', vendor: '' })?.id,
      chooseSignature(list, system(), { model: '', vendor: '' })?.id,
    ]).toEqual(['generic', 'by chassis', 'generic']);
  });
});

describe('the signatures that come with the program', () => {
  const folder = path.join(process.env.BOLIDE_HOME ?? process.cwd(), 'signatures');
  const all = readdirSync(folder).map((file) => ({
    file,
    signature: JSON.parse(readFileSync(path.join(folder, file), 'utf8')) as Signature,
  }));
  test('have ids of their own, named as their file, and a generic one at the end', () => {
    expect(all.map(({ file, signature: { id } }) => [file, `${id}.json`]).filter(([file, id]) => file !== id)).toEqual(
      [],
    );
    const last = [...all].sort((x, y) => y.signature.order - x.signature.order)[0]?.signature;
    expect(last).toMatchObject({ id: 'generic', match: {} });
  });
  test('have roles that exist, patterns that compile, objects that are numbers', () => {
    for (const {
      signature: { match, role, family, model, release, serial, objects },
    } of all) {
      expect(roles).toContain(role);
      for (const extraction of [family, model, release, serial])
        if (extraction && 'description' in extraction)
          expect(new RegExp(extraction.description, 'i').source.length).toBeGreaterThan(0);
      if (match.description) expect(new RegExp(match.description, 'i').source).toBe(match.description);
      for (const oid of [match.objectId, ...Object.values(objects ?? {}).map((object) => object.oid)])
        if (oid) expect(oid).toMatch(/^\d+(\.\d+)+$/);
    }
  });
});

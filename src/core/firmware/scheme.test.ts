import { readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { orderFor, ReleaseOrder, type ReleaseScheme } from './scheme';
import { fieldsOf, FormError, releaseForm } from './schemeForm';

const usual = JSON.parse(
  readFileSync(path.join(process.env.BOLIDE_HOME ?? process.cwd(), 'schemes/usual.json'), 'utf8'),
) as ReleaseScheme[];
const orders = usual.map((scheme) => new ReleaseOrder(scheme));
const orderOf = (id: string) => orders.find(({ scheme }) => scheme?.id === id) ?? new ReleaseOrder(null);

describe('forms', () => {
  test('what each field of a release is; what may be left out is absent', () => {
    const form = releaseForm('<major>.<minor>[.<release>[<mended:letters>]]');
    const read = (release: string) => Object.fromEntries(fieldsOf(form, release) ?? []);
    expect(read('7.4.12b')).toEqual({ major: '7', minor: '4', release: '12', mended: 'b' });
    expect(read('7.4')).toEqual({ major: '7', minor: '4' });
    expect(fieldsOf(form, '7.4.12-3')).toBeNull();
    expect(fieldsOf(form, '')).toBeNull();
  });

  test.each([
    ['<major', '“<” is not closed', 0],
    ['<major>.[<minor>', '“[” is not closed', 8],
    ['<major>]', '“]” closes nothing', 7],
    ['[]<a>', 'there is nothing between “[” and “]”', 0],
    ['<a>.<a>', '“a” stands there twice', 4],
    ['<a>.<b:words>', 'a field is written as', 4],
    ['1.2', 'a form has a field at least', 0],
    [`${'['.repeat(9)}<a>`, 'no more than 8 parts may be left out', 8],
  ])('%s: a mistake is told at its place', (text, words, place) => {
    const mistake = (() => {
      try {
        releaseForm(text);
      } catch (error) {
        return error;
      }
      return null;
    })();
    expect(mistake).toBeInstanceOf(FormError);
    expect((mistake as FormError).message).toContain(words);
    expect((mistake as FormError).place).toBe(place);
  });

  test('any text is a form or a mistake in words, and any release is read or not, without end', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 240 }), fc.string({ maxLength: 60 }), (text, release) => {
        try {
          fieldsOf(releaseForm(text), release);
        } catch (error) {
          expect(error).toBeInstanceOf(FormError);
        }
      }),
    );
  });
});

describe('order', () => {
  test.each(usual.map((scheme) => [scheme.id, scheme] as const))(
    '%s: its examples fit and are in order',
    (_, scheme) => {
      const order = new ReleaseOrder(scheme);
      expect(scheme.examples.filter((release) => !order.fits(release))).toEqual([]);
      expect([...scheme.examples].reverse().sort(order.compare)).toEqual(scheme.examples);
      scheme.examples.slice(1).forEach((later, at) => {
        expect(order.compare(scheme.examples[at] ?? '', later)).toBeLessThan(0);
      });
    },
  );

  const anyRelease = fc.oneof(
    fc.stringMatching(/^[0-9]{1,3}([.-](p|rc|beta)?[0-9]{1,3}){0,3}[a-c]?$/),
    fc.stringMatching(/^[0-9]{2}\.[0-9]{2}\.[0-9]{4}$/),
    fc.string({ maxLength: 12 }),
    fc.constantFrom(...usual.flatMap(({ examples }) => examples)),
  );

  test.each([...orders, new ReleaseOrder(null)].map((order) => [order.scheme?.id ?? 'natural', order] as const))(
    '%s: it is total, whatever is written',
    (_, order) => {
      fc.assert(
        fc.property(anyRelease, anyRelease, anyRelease, (a, b, c) => {
          expect(order.compare(a, a)).toBe(0);
          expect(Math.sign(order.compare(a, b)) + Math.sign(order.compare(b, a))).toBe(0);
          const [x = '', y = '', z = ''] = [a, b, c].sort(order.compare);
          expect(order.compare(x, y)).toBeLessThanOrEqual(0);
          expect(order.compare(y, z)).toBeLessThanOrEqual(0);
          expect(order.compare(x, z)).toBeLessThanOrEqual(0);
          // what is one with another stands to any third as that does
          if (order.compare(a, b) === 0) expect(Math.sign(order.compare(a, c))).toBe(Math.sign(order.compare(b, c)));
        }),
        { numRuns: 400 },
      );
    },
  );

  test('a mended release is told apart from one of a newer train', () => {
    const lettered = orderOf('dotted-letter');
    expect(lettered.relation('7.4.12b', '7.4.9')).toBe('same train');
    expect(lettered.relation('7.6.1', '7.4.12b')).toBe('newer train');
    expect(lettered.relation('7.2.30', '7.4.9')).toBe('older train');
    expect(lettered.relation('7.4.09', '7.4.9')).toBe('same release');
    expect(lettered.relation('seven', '7.4.9')).toBe('no train');
    expect(orderOf('year-patch').relation('2026.1-p12', '2026.1-p8')).toBe('same train');
    expect(new ReleaseOrder(null).relation('7.6', '7.4')).toBe('no train');
  });

  test('numbers of any length are numbers', () => {
    const dotted = orderOf('dotted');
    expect(dotted.compare('1.99999999999999999999', '1.100000000000000000000')).toBeLessThan(0);
    expect(dotted.compare('1.007', '1.7')).toBe(0);
  });

  test('days with the day first are ordered by the year', () => {
    expect(orderOf('day-first').compare('24.11.2025', '04.02.2026')).toBeLessThan(0);
  });
});

describe('which scheme', () => {
  test('the first that all releases of a family fit; the natural order where none does', () => {
    const idOf = (...releases: string[]) => orderFor(releases, orders).scheme?.id ?? null;
    expect(idOf('8.10.171', '8.10.160')).toBe('dotted');
    expect(idOf('7.4.9', '7.4.12b')).toBe('dotted-letter');
    expect(idOf('2026.1-p8', '2026.2')).toBe('year-patch');
    expect(idOf('5.1.0-rc.1', '5.1.0')).toBe('dotted-stage');
    expect(idOf('20260616')).toBe('day-plain');
    expect(idOf('7.4.9', 'build seven')).toBeNull();
    expect(idOf('', '')).toBeNull();
    // what a signature says goes first, where it fits
    expect(orderFor(['7.4.9'], orders, 'dotted-letter').scheme?.id).toBe('dotted-letter');
    expect(orderFor(['7.4.9-p2'], orders, 'dotted-letter').scheme?.id).toBe('year-patch');
  });

  test('a train or a weight that is no field is refused', () => {
    const scheme = { id: 'x', name: 'x', form: '<a>.<b>', train: ['a'], examples: [] };
    expect(() => new ReleaseOrder({ ...scheme, train: ['c'] })).toThrow('“c” of the train is no field of <a>.<b>');
    expect(() => new ReleaseOrder({ ...scheme, weight: ['a'] })).toThrow('“b” has no weight');
  });
});

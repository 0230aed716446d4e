import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { completed, fieldsFor, placeAtCaret } from './completion';
import { editableTerms, withWrittenValue, writtenTerms, type EditableTerm } from './editableTerms';
import { parseFilter } from './syntax';

/** The caret stands at the bar. */
const at = (marked: string) => placeAtCaret(marked.replace('|', ''), marked.indexOf('|'));

describe('what stands at the caret', () => {
  test.each([
    ['|', 'field', '', '', ''],
    ['si|', 'field', 'si', '', ''],
    ['role=switch si|', 'field', 'si', '', 'role=switch'],
    ['-(si|', 'field', 'si', '', ''],
    ['role=switch (site=A or si|', 'field', 'si', '', 'role=switch site=A'],
    ['(role=sw|', 'value', 'sw', 'role', ''],
    ['up and not (role = sw|)', 'value', 'sw', 'role', 'up'],
    ['site=SGH,H| up', 'value', 'H', 'site', 'up'],
    ['site=|SGH,H', 'value', '', 'site', ''],
    ['site= |', 'value', '', 'site', ''],
    ['up or |', 'field', '', '', 'up'],
    ['-|', 'field', '', '', ''],
    ['name=a* role==sw|', 'value', 'sw', 'role', 'name=a*'],
    ['-si|te', 'field', 'si', '', ''],
    ['site=|', 'value', '', 'site', ''],
    ['site=R|PW role=switch', 'value', 'R', 'site', 'role=switch'],
    ['model="K-Acc|', 'value', 'K-Acc', 'model', ''],
    ['model="K-Access 4|8" x', 'value', 'K-Access 4', 'model', 'x'],
    ['module.class:pow|', 'value', 'pow', 'module.class', ''],
    ['mtu>=15|', 'value', '15', 'mtu', ''],
  ])('%s', (marked, kind, typed, field, rest) => expect(at(marked)).toMatchObject({ kind, typed, field, rest }));
  test('values are looked for among what holds besides, not among what stands behind an “or”', () => {
    expect([
      at('up (site=A or site=B role=|)')?.within,
      at('up or site=|')?.within,
      at('up -(a site=|)')?.within,
    ]).toEqual(['up site=B', '', 'up']);
  });
  test('the rest is a whole filter, whatever is written', () => {
    const scrap = fc.constantFrom(
      'up',
      'site=',
      'site=A',
      '(',
      ')',
      '-',
      'or',
      'and',
      'not',
      '"',
      ',',
      '*',
      '==',
      'a,',
      "'",
      '!',
    );
    fc.assert(
      fc.property(fc.array(scrap, { maxLength: 8 }), fc.nat(40), fc.constantFrom('', ' '), (scraps, caret, between) => {
        const text = scraps.join(between);
        const place = placeAtCaret(text, Math.min(caret, text.length));
        if (!place) return;
        expect(() => parseFilter(place.rest)).not.toThrow();
        expect(() => parseFilter(place.within)).not.toThrow();
      }),
      { numRuns: 3000 },
    );
  });
  test('a scrap that is no name of a field is left alone', () => {
    expect([at('10.72|'), at('"si|'), at('02:4b|')]).toEqual([null, null, null]);
  });
  test('a suggestion takes the place of what is written of it, quoted where it must be', () => {
    const put = (marked: string, suggestion: string) => {
      const place = at(marked);
      const done = place && completed(marked.replace('|', ''), place, suggestion);
      return done && `${done.text.slice(0, done.caret)}|${done.text.slice(done.caret)}`;
    };
    expect([
      put('si| role=switch', 'site'),
      put('site=R|PX role=switch', 'RPW'),
      put('model=K|', 'K-Access 48'),
      put('model="K-Acc|ess 24" up', 'K-Access 48'),
      put('name=|', 'or'),
    ]).toEqual([
      'site=| role=switch',
      'site=RPW |role=switch',
      'model="K-Access 48" |',
      'model="K-Access 48" |up',
      'name="or" |',
    ]);
  });
  test('whatever is completed is a filter', () => {
    const scrap = fc.constantFrom('site', 'si', 'site=', 'site=R', 'model="K-A', 'model="K-Access 48"', 'up');
    fc.assert(
      fc.property(
        fc.array(scrap, { maxLength: 3 }),
        scrap,
        fc.string({ maxLength: 8 }).filter((text) => text.trim() !== '' && !text.includes('"')),
        (before, last, value) => {
          const text = [...before.filter((one) => !one.endsWith('=') && !one.endsWith('K-A')), last].join(' ');
          const place = placeAtCaret(text, text.length);
          if (place?.kind === 'value') expect(() => parseFilter(completed(text, place, value).text)).not.toThrow();
        },
      ),
    );
  });
});

test('fields that begin with what is written come first', () => {
  const fields = [
    { name: 'model', label: 'Model', kind: 'text' as const },
    { name: 'memoryBytes', label: 'Memory', kind: 'bytes' as const },
    { name: 'site', label: 'Site', kind: 'text' as const },
    { name: 'firstSeen', label: 'First seen', kind: 'date' as const },
  ];
  expect(fieldsFor('m', fields, 5).map(({ name }) => name)).toEqual(['model', 'memoryBytes']);
  expect(fieldsFor('se', fields, 5).map(({ name }) => name)).toEqual(['firstSeen']);
});

describe('conditions', () => {
  test('are the terms of a filter without alternatives', () => {
    expect(editableTerms('site=A,"B C" name=acc* -role:a,b')).toEqual([
      { field: 'site', relation: '=', value: 'A, B C', several: true, not: false },
      { field: 'name', relation: '=', value: 'acc*', pattern: true, not: false },
      { field: 'role', relation: 'contains', value: 'a, b', several: true, not: true },
    ]);
    expect(editableTerms('rpw -role=switch mtu>1500')).toEqual([
      { field: null, relation: 'contains', value: 'rpw', not: false },
      { field: 'role', relation: '=', value: 'switch', not: true },
      { field: 'mtu', relation: '>', value: '1500', not: false },
    ]);
    expect([editableTerms('a or b'), editableTerms('-(a b)'), editableTerms('site='), editableTerms('')]).toEqual([
      null,
      null,
      null,
      [],
    ]);
  });
  test('read back as they were written', () => {
    const term = fc.record<EditableTerm>({
      field: fc.constantFrom(null, 'site', 'module.class'),
      relation: fc.constantFrom('contains', '=', '!=', '>', '<='),
      not: fc.boolean(),
      value: fc.oneof(
        fc.constantFrom('or', '-x', 'a b', '10.72.4.0/22', '02:4b:45', '', '0', 'K', 'MB'),
        fc.string({ maxLength: 6 }).filter((text) => !text.includes('"') && text.trim() === text),
      ),
    });
    fc.assert(
      fc.property(fc.array(term, { maxLength: 5 }), (terms) => {
        const kept = terms
          .filter(
            ({ field, relation, value }) => value !== '' || (field !== null && (relation === '=' || relation === '!=')),
          )
          .map((one) => ({ ...one, relation: one.field === null ? ('contains' as const) : one.relation }));
        expect(editableTerms(writtenTerms(terms))).toEqual(kept);
      }),
      { numRuns: 1000 },
    );
  });
  test('a value of its own field is read as people write it', () => {
    const site: EditableTerm = { field: 'site', relation: '=', value: '', not: false };
    const written = (value: string, known = false) => writtenTerms([withWrittenValue(site, value, known)]);
    expect([written('A, B C'), written('A,'), written('A*'), written('A, B', true), written('a* b')]).toEqual([
      'site=A,"B C"',
      'site=A',
      'site=A*',
      'site="A, B"',
      'site="a* b"',
    ]);
  });
});

import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  nameMistake,
  nameOfLabel,
  ownKinds,
  ownValueText,
  readOwnValue,
  type OwnField,
  type OwnValue,
} from './ownField';
import { editWords } from './editWords';
import { planEdit, type OwnedRow } from './planEdit';
import { planImport } from './planImport';

const field = (name: string, kind: OwnField['kind'], choices: string[] = []): OwnField => ({
  thing: 'devices',
  name,
  label: name[0]?.toUpperCase() + name.slice(1),
  kind,
  choices,
});
const fields = [
  field('owner', 'text'),
  field('racks', 'number'),
  field('bought', 'date'),
  field('grade', 'choice', ['Gold', 'Silver']),
  field('spare', 'boolean'),
  field('tags', 'tags'),
];
const read = (kind: OwnField['kind'], written: unknown, choices: string[] = []) =>
  readOwnValue(field('it', kind, choices), written);

describe('a value of an own field', () => {
  test('is read as its kind says; nothing written is no value', () => {
    expect([
      read('text', ' Osric '),
      read('number', '-2.5'),
      read('date', '2026-02-28'),
      read('choice', 'gold', ['Gold']),
      read('boolean', 'Yes'),
      read('tags', 'a, b,,A'),
    ]).toEqual([
      { value: 'Osric' },
      { value: -2.5 },
      { value: '2026-02-28' },
      { value: 'Gold' },
      { value: true },
      { value: ['A', 'b'] },
    ]);
    for (const kind of ownKinds) expect([kind, read(kind, '  ')]).toEqual([kind, { value: null }]);
  });
  test.each([
    ['number', '12 U', 'It is a number, not “12 U”'],
    ['date', '2026-02-30', 'It is a day like 2026-11-23'],
    ['date', '30.11.2026', 'It is a day'],
    ['boolean', 'maybe', 'It is yes or no'],
    ['choice', 'Bronze', 'It is one of Gold, Silver, not “Bronze”'],
    ['text', 'two\nlines', 'It is one line'],
  ] as const)('%s “%s” is told to be wrong', (kind, written, words) => {
    expect(read(kind, written, ['Gold', 'Silver'])).toEqual({ mistake: expect.stringContaining(words) });
  });
  test('what is read and written again is read the same', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...ownKinds),
        fc.oneof(
          fc.string(),
          fc.double({ noNaN: true, noDefaultInfinity: true }),
          fc.boolean(),
          fc.array(fc.string(), { maxLength: 5 }),
          fc.constant(null),
          fc.record({ a: fc.string() }),
        ),
        (kind, written) => {
          const answer = read(kind, written, ['Gold', 'Silver']);
          if ('value' in answer) expect(read(kind, ownValueText(answer.value), ['Gold', 'Silver'])).toEqual(answer);
          else expect(answer.mistake).not.toBe('');
        },
      ),
    );
  });
  test('a heading makes a name; names that are taken are refused', () => {
    expect([nameOfLabel('Asset number'), nameOfLabel('1st Owner!'), nameOfLabel('Ort (Raum)')]).toEqual([
      'assetNumber',
      'stOwner',
      'ortRaum',
    ]);
    expect([
      nameMistake('devices', 'Serial'),
      nameMistake('devices', 'module'),
      nameMistake('devices', 'x y'),
      nameMistake('devices', 'owner'),
    ]).toEqual([
      expect.stringContaining('letters and digits'),
      expect.stringContaining('already'),
      expect.stringContaining('letters'),
      null,
    ]);
  });
});

const rows: OwnedRow[] = [
  { id: '1', row: 'sgh-core-1', values: { owner: 'Osric', tags: ['ring', 'old'] } },
  { id: '2', row: 'sgh-core-2', values: { owner: null, tags: [] } },
];

describe('an edit of many rows', () => {
  test('tells only what differs', () => {
    expect(planEdit(rows, { owner: { set: 'Osric' } }, fields).changes).toEqual([
      { id: '2', row: 'sgh-core-2', field: 'owner', before: null, after: 'Osric' },
    ]);
    expect(planEdit(rows, { tags: { add: ['Ring', 'new'], remove: ['OLD'] } }, fields).changes).toEqual([
      { id: '1', row: 'sgh-core-1', field: 'tags', before: ['ring', 'old'], after: ['ring', 'new'] },
      { id: '2', row: 'sgh-core-2', field: 'tags', before: [], after: ['Ring', 'new'] },
    ]);
  });
  test('with one mistake changes nothing', () => {
    expect(
      planEdit(
        rows,
        { owner: { set: 'x' }, racks: { set: 'two' }, colour: { set: 1 }, bought: { add: ['a'], remove: [] } },
        fields,
      ),
    ).toEqual({
      changes: [],
      mistakes: [
        { field: 'racks', message: expect.stringContaining('number') },
        { field: 'colour', message: expect.stringContaining('no own field') },
        { field: 'bought', message: expect.stringContaining('one value') },
      ],
    });
  });
  test('done twice is done once', () => {
    const edit = fc.oneof(
      fc.record({ set: fc.string({ maxLength: 8 }) }),
      fc.record({
        add: fc.array(fc.constantFrom('a', 'b', 'C'), { maxLength: 3 }),
        remove: fc.array(fc.constantFrom('A', 'b', 'ring'), { maxLength: 3 }),
      }),
    );
    fc.assert(
      fc.property(edit, (given) => {
        // a word that is put and taken at once is put
        const { changes, mistakes } = planEdit(rows, { tags: given }, fields);
        if (mistakes.length > 0) return;
        const after = rows.map((row) => ({
          ...row,
          values: {
            ...row.values,
            ...Object.fromEntries(
              changes.filter(({ id }) => id === row.id).map((change) => [change.field, change.after]),
            ),
          },
        }));
        const again = planEdit(after, { tags: given }, fields).changes;
        const texts = (value: OwnValue) => (Array.isArray(value) ? [...value].sort().join() : '');
        expect(again.every((change) => texts(change.before) === texts(change.after))).toBe(true);
      }),
    );
  });
});

describe('values from a file', () => {
  const keys = [
    { name: 'name', labels: ['name'], find: (value: string) => rows.filter(({ row }) => row === value) },
    { name: 'serial', labels: ['serial'], find: () => [] },
  ];
  const plan = (head: string, ...lines: string[]) =>
    planImport(
      head.split(','),
      lines.map((cells, at) => ({ line: at + 2, cells: cells.split(',') })),
      fields,
      keys,
    );
  test('are found by the row’s name, by heading or name of the field', () => {
    expect(plan('Name,OWNER,grade', 'sgh-core-2,Marla,silver', 'sgh-core-1,Osric,')).toMatchObject({
      key: 'name',
      rows: 2,
      fields: ['owner', 'grade'],
      mistakes: [],
      changes: [
        { id: '2', field: 'owner', before: null, after: 'Marla' },
        { id: '2', field: 'grade', after: 'Silver' },
      ],
    });
  });
  test('every mistake is told at its line and column, and nothing is taken', () => {
    const { changes, mistakes } = plan(
      'name,owner,racks',
      'sgh-core-2,Marla,two',
      'nobody,x,1',
      ',x,1',
      'sgh-core-2,Marla,2',
      'sgh-core-1,a,1,extra',
    );
    expect(changes).toEqual([]);
    expect(mistakes).toEqual([
      { line: 2, column: 'Racks', message: 'Racks is a number, not “two”' },
      { line: 3, column: 'name', message: 'Nothing has “nobody”' },
      { line: 4, column: 'name', message: 'says of no row whose it is' },
      { line: 5, column: 'name', message: '“sgh-core-2” is in line 2 already' },
      { line: 6, column: '', message: 'has 4 cells, the head has 3' },
    ]);
  });
  test.each([
    ['owner', 'No column says which row is meant'],
    ['name,colour', 'There is no own field “colour”'],
    ['name,owner,Owner', 'Owner is there twice'],
    ['name,', 'has no heading'],
    ['name', 'No column is an own field'],
  ])('a head “%s” is refused', (head, words) => {
    expect(plan(head, 'sgh-core-1,x').mistakes[0]).toMatchObject({ line: 1, message: expect.stringContaining(words) });
  });
});

test('what was written is told by the headings of fields and by the row, or how many rows', () => {
  const known = [
    { thing: 'devices' as const, name: 'assetNumber', label: 'Asset number', kind: 'text' as const, choices: [] },
  ];
  expect(
    editWords(
      known,
      'devices',
      ['assetNumber', 'gone'],
      [
        { id: '1', row: 'sgh-core-1' },
        { id: '1', row: 'sgh-core-1' },
      ],
    ),
  ).toBe('asset number, gone of sgh-core-1');
  expect(
    editWords(
      known,
      'devices',
      ['assetNumber'],
      [
        { id: '1', row: 'sgh-core-1' },
        { id: '2', row: 'sgh-core-2' },
      ],
    ),
  ).toBe('asset number of 2 devices');
});

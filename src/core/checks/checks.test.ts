import { describe, expect, test } from '@jest/globals';
import { compileFilter } from '../filter/predicate';
import { parseFilter } from '../filter/syntax';
import { relatedThings, things } from '../things/things';
import { deviceFilterOf, filterOfCheck, filterOfExcused, mayBeChecked } from './check';
import { checkLibrary } from './library';

// own fields that the library asks for come with every installation
const own = [
  { name: 'owner', kind: 'text' as const },
  { name: 'assetNumber', kind: 'text' as const },
];
const compile = (thing: (typeof checkLibrary)[number]['thing'], filter: string) =>
  compileFilter<Record<string, unknown>>(
    parseFilter(filter),
    [...things[thing].fields, ...(thing === 'devices' ? own : [])],
    Object.fromEntries(
      Object.entries(relatedThings[thing] ?? {}).map(([word, other]) => [
        word,
        { fields: [...things[other].fields, ...own], of: () => [] },
      ]),
    ),
  );

describe('the library of checks', () => {
  test('has at least thirty, each with a name, a reason and a remedy of its own', () => {
    expect(checkLibrary.length).toBeGreaterThanOrEqual(30);
    for (const part of ['key', 'name', 'where'] as const)
      expect(new Set(checkLibrary.map((check) => `${check.thing} ${check[part]}`)).size).toBe(checkLibrary.length);
    for (const { why, remedy } of checkLibrary) expect([why.endsWith('.'), remedy.endsWith('.')]).toEqual([true, true]);
  });
  test.each(checkLibrary.map((check) => [check.key, check] as const))(
    '%s asks for fields that are there, alone, within a scope and in maintenance',
    (_key, check) => {
      expect(mayBeChecked(check.thing)).toBe(true);
      expect(() => compile(check.thing, filterOfCheck(check))).not.toThrow();
      if (deviceFilterOf(check.thing, 'site=SGH') === null) return;
      expect(() => compile(check.thing, filterOfCheck({ ...check, scope: 'site=SGH -role=camera' }))).not.toThrow();
      expect(() => compile(check.thing, filterOfExcused(filterOfCheck(check), check.thing) ?? '')).not.toThrow();
    },
  );
});

describe('a scope', () => {
  const scoped = (thing: 'devices' | 'ports' | 'links' | 'vlans', scope: string) =>
    filterOfCheck({ thing, where: 'a=1 or b=2', scope });
  test('narrows the rule to what belongs to its devices', () => {
    expect(scoped('devices', 'site=SGH or site=QDP')).toBe('(a=1 or b=2) (site=SGH or site=QDP)');
    expect(scoped('ports', '-role=camera group="North ring"')).toBe(
      '(a=1 or b=2) (-device.role=camera device.group="North ring")',
    );
    expect(scoped('links', 'site=SGH')).toBe('(a=1 or b=2) (from.site=SGH or to.site=SGH)');
    expect(scoped('ports', '')).toBe('a=1 or b=2');
  });
  test.each([
    ['vlans', 'site=SGH', 'belong to no device'],
    ['ports', 'sgh', 'which field'],
    ['ports', 'module.class=fan', 'two steps'],
    ['devices', '(site=', 'no value'],
  ] as const)('of %s “%s” is refused', (thing, scope, words) => {
    expect(() => scoped(thing, scope)).toThrow(words);
  });
});

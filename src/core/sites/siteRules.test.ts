import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { siteRuleMistakes, siteTeller, type SiteRule } from './siteRules';

const rule = (of: SiteRule['of'], pattern: string, site = ''): SiteRule => ({ of, pattern, site });
const at = (rules: SiteRule[], device: Partial<{ name: string; location: string; address: string }>) =>
  siteTeller(rules)({ name: '', location: '', address: '', ...device });

describe('a site', () => {
  test('is told by a name, by a part of it or by what is named beside it', () => {
    expect(at([rule('name', '{site 2-4}-*')], { name: 'rpw-plat' })?.site).toBe('RPW');
    expect(at([rule('name', '{site 2-4}-*')], { name: 'hypervisor-1' })).toBeNull();
    expect(at([rule('name', '*.{site}.ostermere.example')], { name: 'core-1.sgh.ostermere.example' })?.site).toBe(
      'SGH',
    );
    expect(at([rule('name', 'depot*', 'HDP')], { name: 'Depot access 3' })?.site).toBe('HDP');
    expect(at([rule('name', 'depot', 'HDP')], { name: 'depot-3' })).toBeNull();
    expect(at([rule('name', 'a.b*', 'X')], { name: 'axb-1' })).toBeNull();
  });
  test('is told by a text in its location, or by the prefix of its address', () => {
    expect(at([rule('location', 'Ropewalk', 'RPW')], { location: 'cabinet 2, ropewalk, platform 1' })?.site).toBe(
      'RPW',
    );
    expect(at([rule('location', 'room at {site}')], { location: 'Room at LQY 3' })?.site).toBe('LQY');
    expect(at([rule('prefix', '10.72.4.0/24', 'SGH')], { address: '10.72.4.9' })?.site).toBe('SGH');
    expect(at([rule('prefix', '10.72.4.0/24', 'SGH')], { address: '10.72.5.9' })).toBeNull();
    expect(at([rule('prefix', '2001:db8::/32', 'SGH')], { address: '2001:db8::9' })?.site).toBe('SGH');
  });
  test('is that of the first rule that fits, and nobody’s where none does', () => {
    const rules = [rule('prefix', '10.72.4.0/24', 'SGH'), rule('name', '{site}-*')];
    expect(at(rules, { name: 'rpw-plat', address: '10.72.4.2' })).toEqual({ site: 'SGH', rule: 0 });
    expect(at(rules, { name: 'rpw-plat', address: '10.72.9.2' })).toEqual({ site: 'RPW', rule: 1 });
    expect(at(rules, { name: 'switch' })).toBeNull();
    expect(at([], { name: 'rpw-plat' })).toBeNull();
  });
});

test('mistakes of rules are told at their place', () => {
  const places = (rules: SiteRule[]) => siteRuleMistakes(rules).map(({ path }) => path);
  expect(
    places([
      rule('name', ''),
      rule('prefix', '10.72.4.1/24', 'X'),
      rule('prefix', '10.72.4.0/24'),
      rule('name', '{place}-*'),
      rule('name', '{site}-{site}'),
      rule('name', '{site 4-2}-*'),
      rule('name', 'depot*'),
      rule('name', '{site}-*', 'X'),
      rule('name', 'a*b*c*d*e*f', 'X'),
      rule('location', 'Ropewalk', 'RPW'),
      rule('name', '{site 2-4}-*'),
    ]),
  ).toEqual([
    'rules[0].pattern',
    'rules[1].pattern',
    'rules[2].site',
    'rules[3].pattern',
    'rules[4].pattern',
    'rules[5].pattern',
    'rules[6].site',
    'rules[7].site',
    'rules[8].pattern',
  ]);
});

test('any pattern that is found right can be asked of any device', () => {
  const text = fc.string({ maxLength: 40 });
  fc.assert(
    fc.property(text, text, text, fc.constantFrom('name', 'location'), (pattern, name, site, of) => {
      const rules = [rule(of as SiteRule['of'], pattern, site)];
      if (siteRuleMistakes(rules).length > 0) return;
      const told = at(rules, { name, location: name });
      if (told && site) expect(told.site).toBe(site);
    }),
  );
});

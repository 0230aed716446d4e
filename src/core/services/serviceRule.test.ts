import { expect, test } from '@jest/globals';
import { deliveredServiceRules } from '../../store/serviceRules';
import { packageOf } from './packageOf';
import { ruleBasis, serviceRuleSchema, ServiceRules, type Listener, type ServiceRule } from './serviceRule';

const listener = (one: Partial<Listener>): Listener => ({
  process: '',
  path: '',
  arguments: '',
  protocol: 'tcp',
  port: 1,
  package: '',
  ...one,
});
const rule = (one: Partial<ServiceRule>): ServiceRule => ({
  id: 'a',
  order: 50,
  name: 'A',
  kind: 'application',
  publisher: '',
  category: '',
  match: {},
  ...one,
});

test('all that a rule names must fit; the process and the package as a whole, of several ports any', () => {
  const rules = new ServiceRules([
    rule({ match: { process: 'tally', arguments: '--role (writer|reader)', ports: ['tcp/5500', 'tcp/5501'] } }),
    rule({ id: 'b', order: 60, match: { package: 'tally' } }),
    rule({ id: 'c', order: 10, match: { path: '^/srv/own/' } }),
  ]);
  const of = (one: Partial<Listener>) => rules.of(listener(one))?.id ?? null;
  expect(of({ process: 'tally', arguments: '--role writer', port: 5501 })).toBe('a');
  expect(of({ process: 'tally', arguments: '--role writer', port: 5502 })).toBeNull();
  expect(of({ process: 'tallyman', arguments: '--role writer', port: 5500, package: 'tally' })).toBe('b');
  expect(of({ process: 'tally', arguments: '--role writer', port: 5500, path: '/srv/own/tally' })).toBe('c');
  expect(ruleBasis(rule({ match: { process: 'x', ports: ['tcp/1'], path: '' } }))).toBe('process and port');
});

test('the rules that come with the program are rules, and know what listens on plain servers', () => {
  const rules = new ServiceRules(deliveredServiceRules());
  const kind = (one: Partial<Listener>) => rules.of(listener(one))?.kind ?? null;
  expect(kind({ process: 'sshd', port: 2222 })).toBe('control');
  expect(kind({ process: 'postgresqld', port: 9 })).toBe('database');
  expect(kind({ port: 53, protocol: 'udp' })).toBe('name');
  expect(kind({ process: 'burrow', port: 4444 })).toBeNull();
  expect(new Set(rules.rules.map(({ id }) => id)).size).toBe(rules.rules.length);
});

test('what is no rule is refused with what to write', () => {
  const mistakes = (one: unknown) => {
    try {
      serviceRuleSchema.validateSync(one, { abortEarly: false });
      return [];
    } catch (error) {
      return (error as { errors: string[] }).errors;
    }
  };
  expect(mistakes(rule({ match: { process: '(a' } }))[0]).toContain('“(a” is no regular expression');
  expect(mistakes(rule({}))).toEqual(['Say by what it is recognised: process, path, arguments, package or port']);
  expect(mistakes(rule({ match: { ports: ['tcp/70000'] } }))).toEqual(['Write a port like tcp/5432']);
  expect(mistakes(rule({ kind: 'thing' as never, match: { process: 'x' } }))[0]).toContain('The kind must be one of');
});

test('a package is that of the process by its name, or by a folder it lies in', () => {
  const packages = new Map(
    ['ntp', 'tally', 'openssh-server', 'unit-files'].map((name) => [name, { name, version: '1' }]),
  );
  const of = (process: string, path: string) => packageOf(process, path, packages)?.name ?? null;
  expect(of('ntpd', '/usr/sbin/ntpd')).toBe('ntp');
  expect(of('db', '/opt/tally/bin/db')).toBe('tally');
  expect(of('openssh', '/usr/bin/openssh')).toBe('openssh-server');
  expect(of('burrow', '/tmp/.cache/burrow')).toBeNull();
});

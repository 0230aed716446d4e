import * as yup from 'yup';
import { line } from '../values/line';
import { linearPattern, patternMistake } from '../values/linearPattern';

/** What a service does for others. */
export const serviceKinds = [
  'database',
  'web',
  'message bus',
  'directory',
  'name',
  'time',
  'mail',
  'file',
  'backup',
  'print',
  'voice',
  'video',
  'control',
  'management',
  'log',
  'monitoring',
  'address assignment',
  'application',
] as const;
export type ServiceKind = (typeof serviceKinds)[number];

/** Who asks these goes on without them for a while. */
const spared: ReadonlySet<ServiceKind> = new Set([
  'time',
  'backup',
  'print',
  'management',
  'log',
  'monitoring',
  'address assignment',
]);
/** Whether who asks a service stops when nobody serves any more. */
export const isNeededAtOnce = (kind: ServiceKind | ''): boolean => kind === '' || !spared.has(kind);

/** What everybody asks: it says nothing of who belongs together. */
export const sharedKinds: ReadonlySet<ServiceKind> = new Set([
  'name',
  'time',
  'directory',
  'backup',
  'management',
  'log',
  'monitoring',
  'address assignment',
]);

/** By what a listener is recognised: all that is given must fit. The name of its host is never asked. */
export interface ServiceMatch {
  /** patterns: of the whole name of the process, of a piece of its path, of its arguments, of the whole name of the package it came with */
  process?: string | undefined;
  path?: string | undefined;
  arguments?: string | undefined;
  package?: string | undefined;
  /** `tcp/5432`: any of them */
  ports?: readonly string[] | undefined;
}

/** A rule by which listeners are recognised. */
export interface ServiceRule {
  id: string;
  /** the lowest is asked first */
  order: number;
  name: string;
  kind: ServiceKind;
  publisher: string;
  category: string;
  match: ServiceMatch;
}

const portForm = /^(tcp|udp)\/([1-9]\d{0,4})$/;
const isPort = (text: string): boolean => portForm.test(text) && Number(text.split('/')[1]) <= 65_535;
const pattern = (what: string) =>
  line(what)
    .max(200, `${what} has no more than 200 characters`)
    .test('pattern', (text, context) => {
      const mistake = text ? patternMistake(text) : null;
      return mistake === null || context.createError({ message: mistake });
    });

/** A rule as people and data files write it. */
export const serviceRuleSchema = yup
  .object({
    id: line('The id')
      .max(60, 'An id has no more than 60 characters')
      .required('Give the rule an id')
      .matches(/^[a-z0-9][a-z0-9-]*$/, 'An id has small letters, digits and - only'),
    order: yup.number().integer('The order is a whole number').min(1).max(1000).default(100),
    name: line('The name').max(80, 'A name has no more than 80 characters').required('Say what the service is called'),
    kind: yup.string().oneOf(serviceKinds, 'The kind must be one of: ${values}').required('Choose a kind'),
    publisher: line('The publisher').max(80, 'It has no more than 80 characters').default(''),
    category: line('The category').max(80, 'It has no more than 80 characters').default(''),
    match: yup
      .object({
        process: pattern('The process'),
        path: pattern('The path'),
        arguments: pattern('The arguments'),
        package: pattern('The package'),
        ports: yup
          .array(
            yup
              .string()
              .required()
              .test('port', 'Write a port like tcp/5432', (text) => isPort(text)),
          )
          .max(100, 'A rule names no more than 100 ports'),
      })
      .noUnknown()
      .required()
      .test('something', 'Say by what it is recognised: process, path, arguments, package or port', (match) =>
        Object.values(match).some((value) => (Array.isArray(value) ? value.length > 0 : Boolean(value))),
      ),
  })
  .noUnknown() as yup.Schema<ServiceRule>;

/** What is known of a listener. */
export interface Listener {
  process: string;
  path: string;
  arguments: string;
  protocol: string;
  port: number;
  /** name of the package it came with; empty where none is known */
  package: string;
}

const whole = (text: string) => linearPattern(`^(?:${text})$`);

/** Whether a rule fits a listener. */
export function fitsRule({ match }: ServiceRule, listener: Listener): boolean {
  const { process, path, arguments: words, package: name, ports } = match;
  return (
    (!process || (listener.process !== '' && whole(process).test(listener.process))) &&
    (!path || (listener.path !== '' && linearPattern(path).test(listener.path))) &&
    (!words || linearPattern(words).test(listener.arguments)) &&
    (!name || (listener.package !== '' && whole(name).test(listener.package))) &&
    (!ports || ports.length === 0 || ports.includes(`${listener.protocol}/${listener.port}`))
  );
}

const partWords: [keyof ServiceMatch, string][] = [
  ['process', 'process'],
  ['path', 'path'],
  ['arguments', 'arguments'],
  ['package', 'package'],
  ['ports', 'port'],
];

/** By what a rule recognises: “process and port”. */
export const ruleBasis = ({ match }: ServiceRule): string =>
  partWords
    .filter(([part]) => (Array.isArray(match[part]) ? match[part].length > 0 : Boolean(match[part])))
    .map(([, word]) => word)
    .join(' and ');

/** Finds the rule that fits, in their order; of the same order by id. */
export class ServiceRules {
  readonly rules: readonly ServiceRule[];
  readonly #known = new Map<string, ServiceRule | null>();

  constructor(rules: readonly ServiceRule[]) {
    this.rules = [...rules].sort((x, y) => x.order - y.order || (x.id < y.id ? -1 : 1));
  }

  of(listener: Listener): ServiceRule | null {
    const { process, path, arguments: words, protocol, port, package: name } = listener;
    const key = JSON.stringify([process, path, words, protocol, port, name]);
    let rule = this.#known.get(key);
    if (rule === undefined) this.#known.set(key, (rule = this.rules.find((one) => fitsRule(one, listener)) ?? null));
    return rule;
  }
}

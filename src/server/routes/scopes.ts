import { X509Certificate } from 'node:crypto';
import * as yup from 'yup';
import { writes } from '../../core/estate/credential';
import { readScope, type ScopeText } from '../../core/estate/scope';
import { invalid } from '../access/problem';
import { line } from '../access/line';
import { route } from '../access/route';
import type { Store } from '../../store/database';
import { groupFilterMistake } from '../../store/deviceFilter';
import { readGroups } from '../../store/groups';
import { listCollectors } from '../../store/collectors';
import { recordAct } from '../../store/people';
import { calendarOf, nextDue } from '../../store/schedule';
import { listCredentials, listScopes, saveScope } from '../../store/settings';

const lines = () => yup.array(yup.string().required().max(200)).max(500).required();
const scopeSchema = yup
  .object({
    name: line('The name').required('Give the scope a name').max(60),
    ranges: lines(),
    exclusions: lines(),
    translations: lines(),
    credentials: lines(),
    writeCredentials: yup.array(yup.string().required().max(200)).max(50).default([]),
    port: yup.number().required(),
    httpsPort: yup.number().default(443),
    timeoutMs: yup.number().required(),
    retries: yup.number().required(),
    concurrency: yup.number().required(),
    largestPrefix: yup.number().required(),
    neighbourSteps: yup.number().default(0),
    defaultCommunities: yup.boolean().default(false),
    collectors: yup.array(yup.string().required().max(60)).max(50).default([]),
    wakeRanges: yup.array(yup.string().required().max(200)).max(500).default([]),
    schedule: yup.string().max(100).default(''),
    quietHours: yup.array(yup.string().required().max(40)).max(20).default([]),
    authorities: yup.string().max(200_000).default(''),
    group: yup.string().max(60).default(''),
    neighbourWithin: yup.array(yup.string().required().max(200)).max(500).default([]),
  })
  .noUnknown() as yup.Schema<ScopeText>;

/** What looks like a certificate need not be one, and one that has run out vouches for nobody. */
function authorityMistakes(pem = ''): { path: string; message: string }[] {
  return [...pem.matchAll(/-----BEGIN CERTIFICATE-----[^-]+-----END CERTIFICATE-----/g)].flatMap(([text], at) => {
    try {
      const { validTo, subject } = new X509Certificate(text);
      return Date.parse(validTo) < Date.now()
        ? [
            {
              path: 'authorities',
              message: `certificate ${at + 1} (${subject.replaceAll('\n', ', ')}) ran out on ${validTo}`,
            },
          ]
        : [];
    } catch {
      return [{ path: 'authorities', message: `certificate ${at + 1} cannot be read: it is cut or damaged` }];
    }
  });
}

/** A scope may ask the devices of a group alone, where that can be told without asking. */
function groupMistakes({ db }: Store, group = ''): { path: string; message: string }[] {
  if (group === '') return [];
  if (!readGroups(db).some(({ name, thing }) => thing === 'devices' && name === group))
    return [{ path: 'group', message: `There is no group of devices “${group}”` }];
  const message = groupFilterMistake(db, group);
  return message === null ? [] : [{ path: 'group', message }];
}

export const GET = route('viewer', null, ({ store }) => {
  const now = new Date();
  const rows = listScopes(store.db).map((row) => ({ ...row, calendar: calendarOf(store.db, row.id, row.scope, now) }));
  return { rows, total: rows.length };
});

export const POST = route('operator', scopeSchema, ({ store, person, body }) => {
  const read = readScope(body);
  const known = new Map(listCredentials(store.db).map((credential) => [credential.name, writes(credential)]));
  const writing = body.writeCredentials ?? [];
  // a script that knows nothing of collectors leaves them away
  const asked = body.collectors ?? [];
  const collectors = new Set(asked.length > 0 ? listCollectors(store.db).map(({ name }) => name) : []);
  const mistakes = [
    ...('mistakes' in read ? read.mistakes : []),
    ...authorityMistakes(body.authorities),
    ...(body.schedule && !nextDue(body.schedule, new Date())
      ? [
          {
            path: 'schedule',
            message: `“${body.schedule}” is no calendar: write minute, hour, day, month, weekday, as in 0 6 * * 1-5`,
          },
        ]
      : []),
    ...(body.credentials.length === 0 ? [{ path: 'credentials', message: 'Choose at least one credential' }] : []),
    ...[body.credentials, writing].flatMap((names, at) =>
      names
        .filter((name) => !known.has(name))
        .map((name) => ({
          path: at === 0 ? 'credentials' : 'writeCredentials',
          message: `There is no credential “${name}”`,
        })),
    ),
    ...body.credentials
      .filter((name) => known.get(name))
      .map((name) => ({
        path: 'credentials',
        message: `“${name}” is kept for acting on ports: surveys do not use it`,
      })),
    ...writing
      .filter((name) => known.get(name) === false)
      .map((name) => ({
        path: 'writeCredentials',
        message: `“${name}” is for reading: acting on ports takes a credential that is kept for it`,
      })),
    ...groupMistakes(store, body.group),
    ...asked
      .filter((name) => !collectors.has(name))
      .map((name) => ({ path: 'collectors', message: `There is no collector “${name}”` })),
  ];
  if (mistakes.length > 0) throw invalid(mistakes);
  const id = saveScope(store.db, body);
  recordAct(store.db, person.name, 'saved a scope', body.name);
  return { id };
});

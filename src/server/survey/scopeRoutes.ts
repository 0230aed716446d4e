import { X509Certificate } from 'node:crypto';
import { networkInterfaces } from 'node:os';
import * as yup from 'yup';
import { writes } from '../../core/estate/credential';
import { readScope, scopeDefaults, type FieldMistake, type ScopeText } from '../../core/estate/scope';
import { ownRanges, type OwnAddress } from '../../core/estate/ownNetworks';
import { judgedScopeSchema, scopeSchema, type JudgedScope } from '../../core/estate/scopeSchema';
import { listCollectors } from '../../store/collectors';
import type { Db, Store } from '../../store/base/database';
import { groupFilterMistake } from '../../store/deviceFilter';
import { readGroups } from '../../store/groups';
import { editVersion } from '../../store/edits/log';
import { scopeEdits } from '../../store/edits/scopes';
import { calendarOf, nextDue, nextRuns } from '../../store/schedule';
import { listScopes } from '../../store/scopes';
import { listCredentials } from '../../store/credentials';
import { invalid, notFound } from '../access/problem';
import { text } from '../api/parameters';
import { route, type Call } from '../api/route';
import { written } from '../edits/written';

const shownRuns = 5;
/** What a survey asks, and when. */
export const scopeRoutes = [
  route({
    method: 'GET',
    path: '/scopes',
    role: 'viewer',
    summary: 'Scopes: what surveys ask, and when they are due',
    run: ({ store }) => {
      const now = new Date();
      const version = editVersion(store.db);
      const rows = listScopes(store.db).map((row) => ({
        ...row,
        calendar: calendarOf(store.db, row.id, row.scope, now),
      }));
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'POST',
    path: '/scopes',
    beside: true,
    role: 'operator',
    summary: 'Add a scope',
    body: scopeSchema,
    versioned: true,
    run: (call) => savedScope(call, null),
  }),
  route({
    method: 'POST',
    path: '/scopes/mistakes',
    beside: true,
    role: 'operator',
    summary: 'What is wrong with a scope that only the program can tell; nothing is saved',
    body: judgedScopeSchema,
    run: ({ store, body }) => {
      const rows = mistakesToldHere(store, { ...scopeDefaults, ...body, id: body.id ?? null });
      return { rows };
    },
  }),
  route({
    method: 'PUT',
    path: '/scopes/{id}',
    beside: true,
    role: 'operator',
    summary: 'Change a scope, its name too',
    body: scopeSchema,
    versioned: true,
    run: (call) => savedScope(call, scopeNumbered(call.store.db, call.params.id)),
  }),
  route({
    method: 'GET',
    path: '/scopes/proposal',
    role: 'operator',
    summary: 'Ranges that a new scope may mean: the networks this machine stands in',
    run: () => ({ ranges: ownRanges(ownAddresses()) }),
  }),
  route({
    method: 'GET',
    path: '/calendar',
    role: 'operator',
    summary: 'The next runs of a calendar, before it is saved',
    query: yup.object({
      schedule: text('lines of minute, hour, day, month, weekday', 1000).required('Say which calendar'),
      quietHours: text('hours in which nothing begins, with commas between', 1000).default(''),
    }),
    run: ({ query: { schedule, quietHours } }) => {
      const quiet = quietHours.split(',').map((line) => line.trim());
      const runs = nextRuns(schedule, quiet.filter(Boolean), new Date(), shownRuns);
      return { rows: runs.map((run) => run.toISOString()), zone: Intl.DateTimeFormat().resolvedOptions().timeZone };
    },
  }),
  route({
    method: 'DELETE',
    path: '/scopes/{id}',
    beside: true,
    role: 'operator',
    summary: 'Delete a scope',
    versioned: true,
    run: (call) => {
      const { id, scope } = scopeNumbered(call.store.db, call.params.id);
      const changes = [{ key: String(id), before: scope, after: null }];
      const { edit, version } = written(call, scopeEdits, { act: 'deleted a scope', words: scope.name, changes });
      return { edit, version };
    },
  }),
];

function ownAddresses(): OwnAddress[] {
  return Object.values(networkInterfaces()).flatMap((addresses = []) =>
    addresses.map(({ address, cidr }) => ({ address, prefixLength: Number(cidr?.split('/')[1] ?? 128) })),
  );
}

type KeptScope = ReturnType<typeof listScopes>[number];

function scopeNumbered(db: Db, id: string): KeptScope {
  const known = listScopes(db).find((one) => one.id === Number(id));
  if (!known) throw notFound(`scope ${id}`);
  return known;
}

function savedScope(call: Call<string, unknown, ScopeText>, known: KeptScope | null) {
  const { store, body } = call;
  // what a script of before leaves out
  const after = { ...scopeDefaults, ...body };
  const read = readScope(after);
  const mistakes = [
    ...('mistakes' in read ? read.mistakes : []),
    ...mistakesToldHere(store, { ...after, id: known?.id ?? null }),
  ];
  if (mistakes.length > 0) throw invalid(mistakes);
  const changes = [{ key: known ? String(known.id) : null, before: known?.scope ?? null, after }];
  const { key, ...edit } = written(call, scopeEdits, { act: 'saved a scope', words: after.name, changes });
  return { id: Number(key), ...edit };
}

/** What is wrong with a scope beside what `readScope` tells, each at its field. */
function mistakesToldHere(store: Store, scope: JudgedScope): FieldMistake[] {
  const { id, name, credentials, schedule } = scope;
  const isTaken = listScopes(store.db).some((other) => other.scope.name === name && other.id !== id);
  return [
    ...(isTaken ? [{ path: 'name', message: `There is a scope “${name}” already` }] : []),
    ...authorityMistakes(scope.authorities),
    ...(schedule && !nextDue(schedule, new Date())
      ? [
          {
            path: 'schedule',
            message: `“${schedule}” is no calendar: over the API, write minute, hour, day, month, weekday, as in 0 6 * * 1-5`,
          },
        ]
      : []),
    ...(credentials.length === 0 ? [{ path: 'credentials', message: 'Choose at least one credential' }] : []),
    ...credentialMistakes(store, credentials, scope.writeCredentials),
    ...groupMistakes(store, scope.group),
    ...collectorMistakes(store, scope.collectors),
  ];
}

/** What looks like a certificate need not be one, and one that has run out vouches for nobody. */
function authorityMistakes(pem: string): FieldMistake[] {
  return [...pem.matchAll(/-----BEGIN CERTIFICATE-----[^-]+-----END CERTIFICATE-----/g)].flatMap(([text], at) => {
    const path = 'authorities';
    try {
      const { validTo, subject } = new X509Certificate(text);
      const whose = subject.replaceAll('\n', ', ');
      return Date.parse(validTo) < Date.now()
        ? [{ path, message: `certificate ${at + 1} (${whose}) ran out on ${validTo}` }]
        : [];
    } catch {
      return [{ path, message: `certificate ${at + 1} cannot be read: it is cut or damaged` }];
    }
  });
}

/** Credentials are there, and each is used for what it is kept for. */
function credentialMistakes({ db }: Store, reading: string[], writing: string[]): FieldMistake[] {
  const known = new Map(listCredentials(db).map((credential) => [credential.name, writes(credential)]));
  const unknown = (names: string[], path: string) =>
    names.filter((name) => !known.has(name)).map((name) => ({ path, message: `There is no credential “${name}”` }));
  return [
    ...unknown(reading, 'credentials'),
    ...unknown(writing, 'writeCredentials'),
    ...reading
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
  ];
}

/** A scope may ask the devices of a group alone, where that can be told without asking. */
function groupMistakes({ db }: Store, group: string): FieldMistake[] {
  if (group === '') return [];
  if (!readGroups(db).some(({ name, thing }) => thing === 'devices' && name === group)) {
    return [{ path: 'group', message: `There is no group of devices “${group}”` }];
  }
  const message = groupFilterMistake(db, group);
  return message === null ? [] : [{ path: 'group', message }];
}

function collectorMistakes({ db }: Store, asked: string[]): FieldMistake[] {
  const known = new Set(asked.length > 0 ? listCollectors(db).map(({ name }) => name) : []);
  return asked
    .filter((name) => !known.has(name))
    .map((name) => ({ path: 'collectors', message: `There is no collector “${name}”` }));
}

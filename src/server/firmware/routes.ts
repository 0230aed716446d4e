import * as yup from 'yup';
import { completeRelease, releaseSchema, type ReleaseName } from '../../core/firmware/catalogue';
import { componentKinds, type ComponentKind } from '../../core/firmware/components';
import type { Db } from '../../store/base/database';
import { readCatalogue } from '../../store/catalogue';
import { editVersion } from '../../store/edits/log';
import { releaseEdits, releaseKey, releaseWords } from '../../store/edits/releases';
import { knownSchemes } from '../../store/releaseOrders';
import { invalid, notFound } from '../access/problem';
import { obstacles, type Obstacle } from '../../core/firmware/whatIf';
import { atMoments, atSurvey, oneOf, text } from '../api/parameters';
import { longestFilter } from '../query/tablePage';
import { route } from '../api/route';
import { written } from '../edits/written';
import { momentsAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import { targetRoutes } from './targetRoutes';
import { upgradeRoutes } from './upgradeRoutes';
import { waveRoutes } from './waveRoutes';

/** Which part of a device a release is for, where its name is a path. */
const ofPart = yup.object({
  component: oneOf(componentKinds, 'which part of a device it is for').default('system'),
});
const named = (
  { vendor, family, release }: { vendor: string; family: string; release: string },
  { component }: { component: ComponentKind },
): ReleaseName => ({ vendor, family, release, component });

/** @throws Problem where the catalogue has no such release */
function knownRelease(db: Db, name: ReleaseName) {
  const key = releaseKey(name);
  const before = releaseEdits.read(db, key, '');
  if (!before) throw notFound(`release ${releaseWords(name)}`);
  return { key, before };
}

/** Releases there are, and the releases that should run. */
export const firmwareRoutes = [
  route({
    method: 'GET',
    path: '/release-ladders',
    role: 'viewer',
    summary: 'What runs: by family or product and component, how many run which release, in the order of these',
    query: yup.object(atMoments),
    run: async ({ store, query }) => {
      const { survey, against } = momentsAsked(store, query);
      return { survey, against, ...(await tableAnswers(store).ask('laddersAt', survey, against)) };
    },
  }),
  route({
    method: 'GET',
    path: '/readiness-outlook',
    role: 'viewer',
    summary:
      'What if: how many would be ready if some of what holds them back were done, and what would have to be bought',
    query: yup.object({
      ...atSurvey,
      where: text('which of what has a target', longestFilter),
      done: text(`obstacles that are done away with everywhere, with commas: ${obstacles.join(', ')}`),
      memory: text('memory for so many devices of a model, as K-Access 24:12, with commas'),
    }),
    run: async ({ store, query }) => {
      const { survey } = momentsAsked(store, query);
      const done = new Set((query.done ?? '').split(',').filter(Boolean));
      const unknown = [...done].filter((kind) => !(obstacles as readonly string[]).includes(kind));
      if (unknown.length > 0)
        throw invalid(unknown.map((kind) => ({ path: 'done', message: `There is no obstacle “${kind}”` })));
      const memoryFor = (query.memory ?? '')
        .split(',')
        .filter(Boolean)
        .map((one) => {
          const [, model = '', count = ''] = /^(.*):(\d{1,6})$/.exec(one.trim()) ?? [];
          if (model === '') throw invalid([{ path: 'memory', message: `“${one}” is not like K-Access 24:12` }]);
          return { model, count: Number(count) };
        });
      const supposed = { done: done as ReadonlySet<Obstacle>, memoryFor };
      return tableAnswers(store).ask('readinessOutlook', survey, query.where ?? '', supposed);
    },
  }),
  route({
    method: 'GET',
    path: '/release-schemes',
    role: 'viewer',
    summary:
      'How releases are written and put in order, in the order in which schemes are tried; and files of schemes that cannot be read',
    run: ({ store }) => {
      const { orders, mistakes } = knownSchemes(store.db);
      const rows = orders.flatMap(({ scheme }) => scheme ?? []);
      return { rows, total: rows.length, mistakes };
    },
  }),
  route({
    method: 'GET',
    path: '/catalogue',
    role: 'viewer',
    summary: 'Releases, and what each needs',
    run: ({ store }) => {
      const version = editVersion(store.db);
      const rows = readCatalogue(store.db);
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'POST',
    path: '/catalogue',
    role: 'operator',
    summary: 'Add a release',
    body: releaseSchema,
    versioned: true,
    run: (call) => {
      const { store } = call;
      const after = completeRelease(call.body);
      if (releaseEdits.read(store.db, releaseKey(after), '')) {
        const message = `${releaseWords(after)} is in the catalogue already: change it there`;
        throw invalid([{ path: 'release', message }]);
      }
      const changes = [{ key: null, before: null, after }];
      const { edit, version } = written(call, releaseEdits, {
        act: 'added a release',
        words: releaseWords(after),
        changes,
      });
      return { edit, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/catalogue/{vendor}/{family}/{release}',
    role: 'operator',
    summary: 'Change what a release needs',
    query: ofPart,
    body: releaseSchema,
    versioned: true,
    run: (call) => {
      const { key, before } = knownRelease(call.store.db, named(call.params, call.query));
      // what it is silent about stays as it is
      const changes = [{ key, before, after: { ...before, ...call.body } }];
      const { edit, version } = written(call, releaseEdits, {
        act: 'changed a release',
        words: releaseWords(before),
        changes,
      });
      return { edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/catalogue/{vendor}/{family}/{release}',
    role: 'operator',
    summary: 'Take a release out of the catalogue; one that is a target stays',
    query: ofPart,
    versioned: true,
    run: (call) => {
      const { key, before } = knownRelease(call.store.db, named(call.params, call.query));
      const changes = [{ key, before, after: null }];
      const { edit, version } = written(call, releaseEdits, {
        act: 'removed a release',
        words: releaseWords(before),
        changes,
      });
      return { edit, version };
    },
  }),
  ...targetRoutes,
  ...upgradeRoutes,
  ...waveRoutes,
];

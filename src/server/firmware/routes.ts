import * as yup from 'yup';
import { completeRelease, releaseSchema, type ReleaseName } from '../../core/firmware/catalogue';
import { componentKinds, type ComponentKind } from '../../core/firmware/components';
import type { Db } from '../../store/base/database';
import { readCatalogue } from '../../store/catalogue';
import { editVersion } from '../../store/edits/log';
import { releaseEdits, releaseKey, releaseWords } from '../../store/edits/releases';
import { knownSchemes } from '../../store/releaseOrders';
import { invalid, notFound } from '../access/problem';
import { atMoments, oneOf } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { momentsAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';
import { targetRoutes } from './targetRoutes';
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
  ...waveRoutes,
];

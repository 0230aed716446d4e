import * as yup from 'yup';
import {
  completeRelease,
  isSameLine,
  releaseSchema,
  type CatalogueRelease,
  type ReleaseName,
} from '../../core/firmware/catalogue';
import { componentKinds, type ComponentKind } from '../../core/firmware/components';
import { groupFilterMistake } from '../../store/deviceFilter';
import { readGroups } from '../../store/groups';
import type { Db } from '../../store/base/database';
import { readCatalogue } from '../../store/catalogue';
import { editVersion } from '../../store/edits/log';
import { releaseEdits, releaseKey, releaseWords } from '../../store/edits/releases';
import { targetEdits, targetKey, targetWords } from '../../store/edits/targets';
import { knownSchemes } from '../../store/releaseOrders';
import { readTargets } from '../../store/targets';
import { invalid, notFound } from '../access/problem';
import { atMoments, oneOf } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { momentsAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const targetSchema = yup
  .object({
    vendor: yup.string().required(),
    family: yup.string().required(),
    release: yup.string().nullable().defined().meta({ description: 'null takes the target away' }),
    group: yup.string(),
  })
  .noUnknown();

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
  route({
    method: 'GET',
    path: '/targets',
    role: 'viewer',
    summary: 'Targets: the release that a family, or a group of it, should run',
    run: ({ store }) => {
      const version = editVersion(store.db);
      const rows = readTargets(store.db);
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/targets',
    role: 'operator',
    summary: 'Set the target of a family, or of its devices in a group, or take it away',
    body: targetSchema,
    versioned: true,
    run: (call): { version: number; edit?: number } => {
      const { store, person, body } = call;
      const { vendor, family, release, group = '' } = body;
      const mistake = group === '' ? null : groupFilterMistake(store.db, group);
      const known = readGroups(store.db).some(({ name, thing }) => name === group && thing === 'devices');
      if (group !== '' && !known) {
        throw invalid([{ path: 'group', message: `There is no group of devices “${group}”` }]);
      }
      if (mistake !== null && release !== null) throw invalid([{ path: 'group', message: mistake }]);
      const listed = (entry: CatalogueRelease) =>
        isSameLine(entry, { vendor, family, component: 'system' }) && entry.release === release;
      if (release !== null && !readCatalogue(store.db).some(listed)) {
        throw invalid([{ path: 'release', message: `The catalogue has no ${vendor} ${family} release ${release}` }]);
      }
      const key = targetKey({ vendor, family, group });
      const before = targetEdits.read(store.db, key, '');
      if ((before?.release ?? null) === release) return { version: editVersion(store.db) };
      const setAt = new Date().toISOString();
      const after = release === null ? null : { vendor, family, release, group, setBy: person.name, setAt };
      const words = targetWords({ vendor, family, release: release ?? '', group });
      const act = release === null ? 'took a target away' : 'set a target';
      const { edit, version } = written(call, targetEdits, { act, words, changes: [{ key, before, after }] });
      return { edit, version };
    },
  }),
];

import * as yup from 'yup';
import { line } from '../../core/values/line';
import type { CatalogueRelease } from '../../core/firmware/readiness';
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
import { atMoments } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { momentsAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const bytes = () => yup.number().integer().min(0).nullable().defined();
const releaseForm = /^[0-9A-Za-z][0-9A-Za-z._-]*$/;
const releaseSchema = yup
  .object({
    vendor: line('The maker').required('Give the maker'),
    family: line('The family').required('Give the family'),
    release: line('The release')
      .required('Give the release')
      .matches(releaseForm, 'A release has digits, letters and . _ - only'),
    published: yup
      .string()
      .required('Give the day of publication')
      .matches(/^\d{4}-\d\d-\d\d$/, 'Write the day like 2026-11-23'),
    minimumMemoryBytes: bytes(),
    neededFlashBytes: bytes(),
    minimumFrom: yup.string().nullable().defined(),
    minimumBoot: yup.string().nullable().defined(),
    excludedModels: yup.array(yup.string().required()).required(),
    image: yup.string().defined(),
  })
  .noUnknown() as yup.Schema<CatalogueRelease>;
const targetSchema = yup
  .object({
    vendor: yup.string().required(),
    family: yup.string().required(),
    release: yup.string().nullable().defined().meta({ description: 'null takes the target away' }),
    group: yup.string(),
  })
  .noUnknown();

/** @throws Problem where the catalogue has no such release */
function knownRelease(db: Db, name: Pick<CatalogueRelease, 'vendor' | 'family' | 'release'>) {
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
      const { store, body } = call;
      if (releaseEdits.read(store.db, releaseKey(body), '')) {
        const message = `${releaseWords(body)} is in the catalogue already: change it there`;
        throw invalid([{ path: 'release', message }]);
      }
      const changes = [{ key: null, before: null, after: body }];
      const { edit, version } = written(call, releaseEdits, {
        act: 'added a release',
        words: releaseWords(body),
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
    body: releaseSchema,
    versioned: true,
    run: (call) => {
      const { key, before } = knownRelease(call.store.db, call.params);
      const changes = [{ key, before, after: call.body }];
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
    versioned: true,
    run: (call) => {
      const { key, before } = knownRelease(call.store.db, call.params);
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
        entry.vendor === vendor && entry.family === family && entry.release === release;
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

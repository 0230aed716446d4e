import * as yup from 'yup';
import { FilterError } from '../../core/filter/filterNode';
import {
  completeTarget,
  isSameTarget,
  targetKey,
  targetSchema,
  targetWords,
  type ReleaseTarget,
} from '../../core/firmware/target';
import type { Store } from '../../store/base/database';
import { readCatalogue } from '../../store/catalogue';
import { deviceFilter, groupFilterMistake } from '../../store/deviceFilter';
import { editVersion } from '../../store/edits/log';
import { targetEdits } from '../../store/edits/targets';
import { readGroups } from '../../store/groups';
import { readAllTargets, readTargets } from '../../store/targets';
import { invalid, notFound } from '../access/problem';
import { atSurvey } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { momentsAsked, newestSurvey } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

/** Why a filter cannot say for which devices a target is; null where it can. */
function filterMistake(store: Store, where: string): string | null {
  try {
    deviceFilter(store.db, where);
    return null;
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    return `${error.message}. What a device is may be asked for, not how it fares nor what its parts are`;
  }
}

/** @throws Problem where a target cannot be as it is written */
function checkTarget(store: Store, target: ReleaseTarget): void {
  const { db } = store;
  const { vendor, family, component, release, group, model, where, stages } = target;
  if ([group, model, where].filter(Boolean).length > 1)
    throw invalid([{ path: 'where', message: 'A target is for a group, a model or a filter: one of them' }]);
  if (group !== '') {
    if (!readGroups(db).some(({ name, thing }) => name === group && thing === 'devices'))
      throw invalid([{ path: 'group', message: `There is no group of devices “${group}”` }]);
    const mistake = groupFilterMistake(db, group);
    if (mistake !== null) throw invalid([{ path: 'group', message: mistake }]);
  }
  const ofFilter = where === '' ? null : filterMistake(store, where);
  if (ofFilter !== null) throw invalid([{ path: 'where', message: ofFilter }]);
  stages.forEach((stage, at) => {
    const mistake = filterMistake(store, stage.where);
    if (mistake !== null) throw invalid([{ path: `stages[${at}].where`, message: mistake }]);
  });
  const names = stages.map(({ name }) => name);
  if (new Set(names).size < names.length || names.join(' ') === 'early try-out')
    throw invalid([{ path: 'stages', message: 'First the try-out, then the early ones, each once' }]);
  const isListed = readCatalogue(db).some(
    (one) => one.vendor === vendor && one.family === family && one.component === component && one.release === release,
  );
  if (!isListed) {
    const part = component === 'system' ? '' : `${component} `;
    throw invalid([{ path: 'release', message: `The catalogue has no ${vendor} ${family} ${part}release ${release}` }]);
  }
}

/** @throws Problem where there is no such draft */
function draftNamed(store: Store, name: string): ReleaseTarget[] {
  const targets = name === '' ? [] : readTargets(store.db, name);
  if (targets.length === 0) throw notFound(`draft “${name}”`);
  return targets;
}

/** The releases that should run, and the sets of them that are not in force yet. */
export const targetRoutes = [
  route({
    method: 'GET',
    path: '/targets',
    role: 'viewer',
    summary: 'Targets: the release that a component of a family should run, everywhere or on some devices',
    query: yup.object({ draft: yup.string().max(200).meta({ description: 'those of this draft instead' }) }),
    run: ({ store, query }) => {
      const version = editVersion(store.db);
      const rows = readTargets(store.db, query.draft ?? '');
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'GET',
    path: '/target-standing',
    role: 'viewer',
    summary:
      'How targets stand: of those each is for how many have which verdict, and what is wrong with the target itself',
    query: yup.object({
      ...atSurvey,
      draft: yup.string().max(200).meta({ description: 'those of this draft, as if they were in force' }),
    }),
    run: async ({ store, query }) => {
      const { survey } = momentsAsked(store, query);
      const version = editVersion(store.db);
      const rows = await tableAnswers(store).ask('targetStanding', survey, query.draft ?? '');
      return { survey, rows, total: rows.length, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/targets',
    role: 'operator',
    summary: 'Set a target, for all of a family, a group, a model or a filter; or take it away',
    body: targetSchema,
    versioned: true,
    run: (call): { version: number; edit?: number } => {
      const { store, person, body } = call;
      const { release, ...place } = body as Partial<ReleaseTarget> &
        Pick<ReleaseTarget, 'vendor' | 'family'> & { release: string | null };
      const key = targetKey(place);
      const before = targetEdits.read(store.db, key, '');
      const setAt = new Date().toISOString();
      // what it is silent about stays as it is
      const after =
        release === null ? null : completeTarget({ ...before, ...place, release, setBy: person.name, setAt });
      if (after) checkTarget(store, after);
      if (before === null ? after === null : after !== null && isSameTarget(before, after))
        return { version: editVersion(store.db) };
      const words = targetWords(after ?? { ...place, release: before?.release ?? '' });
      const act = after === null ? 'took a target away' : 'set a target';
      const { edit, version } = written(call, targetEdits, { act, words, changes: [{ key, before, after }] });
      return { edit, version };
    },
  }),
  route({
    method: 'GET',
    path: '/target-drafts',
    role: 'viewer',
    summary: 'Sets of targets that are not in force yet',
    run: ({ store }) => {
      const version = editVersion(store.db);
      const counts = new Map<string, number>();
      for (const { draft } of readAllTargets(store.db))
        if (draft !== '') counts.set(draft, (counts.get(draft) ?? 0) + 1);
      const rows = [...counts].map(([name, targets]) => ({ name, targets }));
      return { rows, total: rows.length, version };
    },
  }),
  route({
    method: 'GET',
    path: '/target-drafts/{name}/difference',
    role: 'viewer',
    summary: 'What a draft would change: how many devices have which verdict now and then, and which become another',
    run: async ({ store, params }) => {
      draftNamed(store, params.name);
      return tableAnswers(store).ask('draftDifference', newestSurvey(store), params.name);
    },
  }),
  route({
    method: 'POST',
    path: '/target-drafts/{name}/apply',
    role: 'operator',
    summary: 'Put the targets of a draft in force, in place of those for the same; the draft is gone then',
    versioned: true,
    run: (call) => {
      const { store, person, params } = call;
      const targets = draftNamed(store, params.name);
      const setAt = new Date().toISOString();
      const changes = targets.flatMap((target) => {
        const after = { ...target, draft: '', setBy: person.name, setAt };
        checkTarget(store, after);
        const key = targetKey(after);
        const before = targetEdits.read(store.db, key, '');
        return [
          ...(before && isSameTarget(before, after) ? [] : [{ key, before, after }]),
          { key: targetKey(target), before: target, after: null },
        ];
      });
      const words = `${params.name}: ${targets.length} ${targets.length === 1 ? 'target' : 'targets'}`;
      const { edit, version } = written(call, targetEdits, { act: 'put a draft of targets in force', words, changes });
      return { edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/target-drafts/{name}',
    role: 'operator',
    summary: 'Give a draft up',
    versioned: true,
    run: (call) => {
      const { store, params } = call;
      const changes = draftNamed(store, params.name).map((target) => ({
        key: targetKey(target),
        before: target,
        after: null,
      }));
      const { edit, version } = written(call, targetEdits, {
        act: 'gave a draft of targets up',
        words: params.name,
        changes,
      });
      return { edit, version };
    },
  }),
];

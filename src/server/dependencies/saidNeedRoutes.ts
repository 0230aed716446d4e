import * as yup from 'yup';
import { saidNeedSchema, type SaidNeed, type SaidNeedBody } from '../../core/dependency/saidNeed';
import type { Store } from '../../store/base/database';
import { latestSealed } from '../../store/base/sealedSurveys';
import { editVersion } from '../../store/edits/log';
import { saidNeedEdits } from '../../store/edits/saidNeeds';
import { invalid, notFound } from '../access/problem';
import { atSurvey } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

/** Names become numbers when they are written: what is called otherwise later is still meant. @throws Problem */
async function meant(store: Store, body: SaidNeedBody, by: string): Promise<SaidNeed> {
  const found = await tableAnswers(store).ask('needMeant', latestSealed(store.db), body);
  if ('mistakes' in found) throw invalid(found.mistakes);
  if (body.atLeast > found.from.length)
    throw invalid([{ path: 'atLeast', message: `It rests on ${found.from.length}: no more can be needed` }]);
  return { ...body, ...found, by };
}

/** What people say rests on what: what no survey and no capture can see. */
export const saidNeedRoutes = [
  route({
    method: 'GET',
    path: '/dependences',
    role: 'viewer',
    summary: 'What people say rests on what, what is to be reviewed first',
    query: yup.object(atSurvey),
    run: async ({ store, query }) => {
      const rows = await tableAnswers(store).ask('saidNeedsTold', surveyAsked(store, query));
      return { rows, total: rows.length, version: editVersion(store.db) };
    },
  }),
  route({
    method: 'POST',
    path: '/dependences',
    role: 'operator',
    summary: 'Say that something rests on other things',
    body: saidNeedSchema,
    versioned: true,
    run: async (call) => {
      const after = await meant(call.store, call.body, call.person.name);
      const { key, edit, version } = written(call, saidNeedEdits, {
        act: 'said what rests on what',
        words: `${after.of} rests on ${after.from.join(', ')}`,
        changes: [{ key: null, before: null, after }],
      });
      return { id: Number(key), edit, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/dependences/{id}',
    role: 'operator',
    summary: 'Say it otherwise, or that it is still so',
    body: saidNeedSchema,
    versioned: true,
    run: async (call) => {
      const before = saidNeedEdits.read(call.store.db, call.params.id, '');
      if (!before) throw notFound(`dependence ${call.params.id}`);
      const after = await meant(call.store, call.body, call.person.name);
      const { edit, version } = written(call, saidNeedEdits, {
        act: 'said what rests on what',
        words: `${after.of} rests on ${after.from.join(', ')}`,
        changes: [{ key: call.params.id, before, after }],
      });
      return { edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/dependences/{id}',
    role: 'operator',
    summary: 'Say no more that something rests on other things',
    versioned: true,
    run: (call) => {
      const before = saidNeedEdits.read(call.store.db, call.params.id, '');
      if (!before) throw notFound(`dependence ${call.params.id}`);
      const { edit, version } = written(call, saidNeedEdits, {
        act: 'said no more what rests on what',
        words: `${before.of} rests on ${before.from.join(', ')}`,
        changes: [{ key: call.params.id, before, after: null }],
      });
      return { edit, version };
    },
  }),
];

import * as yup from 'yup';
import { workSchema, workState } from '../../core/works/work';
import { editVersion } from '../../store/edits/log';
import { workEdits } from '../../store/edits/works';
import { readWorks } from '../../store/works';
import { notFound } from '../access/problem';
import { atSurvey, text } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

/** Planned works and incidents: what, who, when, on which things. */
export const workRoutes = [
  route({
    method: 'GET',
    path: '/works',
    role: 'viewer',
    summary: 'Planned works and incidents, the latest to begin first',
    run: ({ store }) => {
      const now = Date.now();
      const rows = readWorks(store.db).map((work) => ({ ...work, state: workState(work, now) }));
      return { rows, total: rows.length, version: editVersion(store.db) };
    },
  }),
  route({
    method: 'GET',
    path: '/works/touching',
    role: 'viewer',
    summary: 'Works that are not over and are on a thing, or would take it down or its spare',
    query: yup.object({ ...atSurvey, thing: text('named as in a rehearsal', 400).default('') }),
    run: ({ store, query }) => tableAnswers(store).ask('worksTouching', surveyAsked(store, query), query.thing),
  }),
  route({
    method: 'POST',
    path: '/works',
    role: 'operator',
    summary: 'Write down a planned work or an incident',
    body: workSchema,
    versioned: true,
    run: (call) => {
      const changes = [{ key: null, before: null, after: call.body }];
      const { key, edit, version } = written(call, workEdits, {
        act: `wrote down a ${call.body.kind}`,
        words: call.body.title,
        changes,
      });
      return { id: Number(key), edit, version };
    },
  }),
  route({
    method: 'PUT',
    path: '/works/{id}',
    role: 'operator',
    summary: 'Change a planned work or an incident',
    body: workSchema,
    versioned: true,
    run: (call) => {
      const before = workEdits.read(call.store.db, call.params.id, '');
      if (!before) throw notFound(`work ${call.params.id}`);
      const changes = [{ key: call.params.id, before, after: call.body }];
      const { edit, version } = written(call, workEdits, {
        act: `changed a ${call.body.kind}`,
        words: call.body.title,
        changes,
      });
      return { edit, version };
    },
  }),
  route({
    method: 'DELETE',
    path: '/works/{id}',
    role: 'operator',
    summary: 'Take a planned work or an incident away',
    versioned: true,
    run: (call) => {
      const before = workEdits.read(call.store.db, call.params.id, '');
      if (!before) throw notFound(`work ${call.params.id}`);
      const changes = [{ key: call.params.id, before, after: null }];
      const { edit, version } = written(call, workEdits, {
        act: `removed a ${before.kind}`,
        words: before.title,
        changes,
      });
      return { edit, version };
    },
  }),
];

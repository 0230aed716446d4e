import * as yup from 'yup';
import isEqual from 'fast-deep-equal';
import { toldWorkSchema, workSchema, workState, type Work } from '../../core/works/work';
import { latestSealed } from '../../store/base/sealedSurveys';
import { editVersion } from '../../store/edits/log';
import { workEdits } from '../../store/edits/works';
import { readWorks, workFrom } from '../../store/works';
import { invalid, notFound } from '../access/problem';
import { atSurvey, text } from '../api/parameters';
import { route } from '../api/route';
import { written } from '../edits/written';
import { surveyAsked } from '../query/momentsAsked';
import { tableAnswers } from '../query/thread/tableAnswers';

const longestSource = 80;

/** @throws Problem where a system or a ticket has a longer name than is kept */
function checkSource(source: string, number: string): void {
  if (source.length > longestSource || number.length > longestSource)
    throw invalid([{ path: 'source', message: `A source and a number have no more than ${longestSource} characters` }]);
}

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
  route({
    method: 'PUT',
    path: '/works/from/{source}/{number}',
    role: 'operator',
    summary:
      'What another system says of one of its tickets: written, or written over; told again, it changes nothing. Names that mean nothing here are told',
    body: toldWorkSchema,
    run: async (call) => {
      const { source, number } = call.params;
      checkSource(source, number);
      const known = workFrom(call.store.db, source, number);
      const { id: _id, ...before } = known ?? { id: 0 };
      const after: Work = { ...call.body, source, number };
      const isNew = known === null;
      const isOther = isNew || !isEqual(before, after);
      if (isOther)
        written({ ...call, seen: null }, workEdits, {
          act: isNew ? `wrote down a ${after.kind}` : `changed a ${after.kind}`,
          words: `${after.title}, ${source} ${number}`,
          changes: [{ key: known ? String(known.id) : null, before: isNew ? null : (before as Work), after }],
        });
      const unknown = await tableAnswers(call.store).ask('unknownNames', latestSealed(call.store.db), after.things);
      return { written: isOther, unknown };
    },
  }),
  route({
    method: 'DELETE',
    path: '/works/from/{source}/{number}',
    role: 'operator',
    summary: 'A ticket of another system was withdrawn',
    run: (call) => {
      const known = workFrom(call.store.db, call.params.source, call.params.number);
      // told again, it is gone already
      if (!known) return { written: false };
      const { id, ...before } = known;
      written({ ...call, seen: null }, workEdits, {
        act: `removed a ${before.kind}`,
        words: `${before.title}, ${before.source} ${before.number}`,
        changes: [{ key: String(id), before, after: null }],
      });
      return { written: true };
    },
  }),
];

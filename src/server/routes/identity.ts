import { decisionsAbout, doubtfulSurveys, joinCandidates } from '../../store/identityDecisions';
import { invalid } from '../access/problem';
import { route } from '../access/route';
import { Calendar } from '../things/moment';

/** Whether a device is one: where it may be another, which others may be it, and what was decided. */
export const GET = route('viewer', null, ({ store, params }) => {
  const id = Number(params.id);
  if (!Number.isInteger(id)) throw invalid([{ path: 'id', message: 'must be the number of a device' }]);
  const { momentOf } = new Calendar(store.db);
  return {
    doubtful: doubtfulSurveys(store.db, id).map((row) => ({ ...row, at: momentOf(row.survey) })),
    candidates: joinCandidates(store.db, id),
    decisions: decisionsAbout(store.db, id).map(({ id: decision, at, who, kind, words, undone }) => ({
      id: decision,
      at,
      who,
      kind,
      words,
      undone,
    })),
  };
});

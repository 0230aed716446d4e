import { IdentityDecisionError, undoDecision } from '../../store/identityDecisions';
import { recordAct } from '../../store/people';
import { Problem } from '../access/problem';
import { route } from '../access/route';
import { refuseWhileSurveying } from './identities';

export const POST = route('operator', null, ({ store, person, params }) => {
  refuseWhileSurveying(store);
  try {
    const decision = undoDecision(store.db, Number(params.id));
    if (!decision)
      throw new Problem(409, 'Nothing to take back', 'There is no such decision, or it was taken back already.');
    recordAct(store.db, person.name, 'took an identity decision back', decision.words);
    return { device: decision.keptId };
  } catch (error) {
    if (error instanceof IdentityDecisionError) throw new Problem(409, 'Not so', `${error.message}.`);
    throw error;
  }
});

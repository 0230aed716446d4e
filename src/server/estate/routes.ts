import * as yup from 'yup';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Store } from '../../store/base/database';
import {
  decisionsAbout,
  doubtfulSurveys,
  IdentityDecisionError,
  joinCandidates,
  joinDevices,
  splitDevice,
  undoDecision,
} from '../../store/identityDecisions';
import { activeJob } from '../../store/jobs';
import { recordAct } from '../../store/audit';
import { invalid, Problem } from '../access/problem';
import { atMoments, atSurvey, text, whole } from '../api/parameters';
import { route } from '../api/route';
import { momentsAsked, surveyAsked } from '../query/momentsAsked';
import { judgedAt } from '../checks/keepJudging';
import { tableAnswers } from '../query/thread/tableAnswers';
import { Calendar } from '../query/calendar';
import { thingRoutes } from './thingRoutes';

const decisionSchema = yup
  .object({
    kind: yup
      .string()
      .oneOf(['split', 'join'] as const, 'must be split or join')
      .required(),
    device: yup.number().integer().required('Say which device'),
    survey: yup.number().integer().meta({ description: 'of a split: from which survey on it is another device' }),
    other: yup.number().integer().meta({ description: 'of a join: what it was, or became' }),
  })
  .noUnknown();

/** What there is: tables of every thing, what needs attention, anything by a scrap, and which device is which. */
export const estateRoutes = [
  route({
    method: 'GET',
    path: '/today',
    role: 'viewer',
    summary: 'What needs attention, and what changed',
    query: yup.object(atMoments),
    run: async ({ store, query }) => {
      const { survey, against } = momentsAsked(store, query);
      await judgedAt(store, survey);
      return tableAnswers(store).ask('today', survey, against);
    },
  }),
  route({
    method: 'GET',
    path: '/find',
    role: 'viewer',
    summary:
      'Anything by a scrap of its name, address, MAC or serial, the closest first; rank 0 is the text itself, 4 and more have letters wrong',
    query: yup.object({
      ...atSurvey,
      text: text('what it is called').default(''),
      most: whole('how many at most', 1, 100).default(12),
    }),
    run: async ({ store, query }) => {
      const survey = surveyAsked(store, query);
      return { rows: await tableAnswers(store).ask('find', survey, query.text, query.most), survey };
    },
  }),
  route({
    method: 'POST',
    path: '/identities',
    role: 'operator',
    summary: 'Part a device at a survey, or put two together',
    body: decisionSchema,
    run: ({ store, person, body }) => {
      refuseWhileSurveying(store);
      return decided(() => decide(store, person.name, body));
    },
  }),
  route({
    method: 'GET',
    path: '/identities/{id}',
    role: 'viewer',
    summary:
      'Where a device may be another one, which others may be it, and what was decided; id is that of the device',
    run: ({ store, params }) => {
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
    },
  }),
  route({
    method: 'POST',
    path: '/identities/{id}/undo',
    role: 'operator',
    summary: 'Take a decision back; id is that of the decision',
    run: ({ store, person, params }) => {
      refuseWhileSurveying(store);
      return decided(() => {
        const decision = undoDecision(store.db, Number(params.id));
        if (!decision)
          throw new Problem(409, 'Nothing to take back', 'There is no such decision, or it was taken back already.');
        recordAct(store.db, person.name, 'took an identity decision back', decision.words);
        return { device: decision.keptId };
      });
    },
  }),
  ...thingRoutes,
];

interface Decision {
  device: number;
  other: number | undefined;
  latest?: number;
}

function decide(
  store: Store,
  who: string,
  { kind, device, survey, other }: yup.InferType<typeof decisionSchema>,
): Decision {
  if (kind === 'split') {
    if (survey === undefined)
      throw invalid([{ path: 'survey', message: 'Say from which survey on it is another device' }]);
    const id = splitDevice(store.db, who, device, survey);
    recordAct(store.db, who, 'parted a device', `device ${device} from survey ${survey} on is device ${id}`);
    return { device, other: id, latest: latestSealed(store.db) };
  }
  if (other === undefined) throw invalid([{ path: 'other', message: 'Say which device it is one with' }]);
  joinDevices(store.db, who, device, other);
  recordAct(store.db, who, 'put two devices together', `device ${other} is device ${device}`);
  return { device, other };
}

function decided<Answer>(work: () => Answer): Answer {
  try {
    return work();
  } catch (error) {
    if (error instanceof IdentityDecisionError) throw new Problem(409, 'Not so', `${error.message}.`);
    throw error;
  }
}

/** Facts of devices are written by surveys: two writers of one identity would both be wrong. */
function refuseWhileSurveying(store: Store): void {
  if (activeJob(store.db))
    throw new Problem(409, 'A survey runs', 'Wait until it is sealed: until then it decides who is who.');
}

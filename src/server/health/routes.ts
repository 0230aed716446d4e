import { route } from '../api/route';
import { healthOf, storeProblem } from './health';

const status = (isGood: boolean) => ({ status: isGood ? 200 : 503, headers: { 'cache-control': 'no-store' } });

/** For whoever watches over the application: probes, and the program that started it. */
export const healthRoutes = [
  route({
    method: 'GET',
    path: '/health',
    role: 'anyone',
    summary:
      'Whether everything goes on: the application, its engine and each of their loops; 503 with the reasons where it does not',
    answer: {
      type: 'object',
      properties: {
        state: { type: 'string', enum: ['up', 'down'] },
        reasons: { type: 'array', items: { type: 'string' } },
      },
      required: ['state', 'reasons'],
    },
    run: ({ store }) => {
      const health = healthOf(store);
      return Response.json(health, status(health.state === 'up'));
    },
  }),
  route({
    method: 'GET',
    path: '/ready',
    role: 'anyone',
    summary: 'Whether requests can be answered now; 503 where they cannot',
    answer: {
      type: 'object',
      properties: { ready: { type: 'boolean' }, reason: { type: ['string', 'null'] } },
      required: ['ready', 'reason'],
    },
    run: ({ store }) => {
      const reason = storeProblem(store);
      return Response.json({ ready: reason === null, reason }, status(reason === null));
    },
  }),
];

import { Problem } from '../access/problem';
import { route } from '../api/route';
import { notWellOf, storeProblem, type NotWell } from './health';

/** @throws Problem where something is not well */
function expectWell(reasons: NotWell[]): void {
  if (reasons.length === 0) return;
  throw new Problem(503, 'Not well', `${reasons.map(({ message }) => message).join('. ')}.`, reasons);
}

/** For whoever watches over the application: probes, and the program that started it. */
export const healthRoutes = [
  route({
    method: 'GET',
    path: '/health',
    role: 'anyone',
    summary: 'Whether everything goes on: the application, its engine and each of their loops; 503 tells what does not',
    run: ({ store }) => {
      expectWell(notWellOf(store));
      return { state: 'up' };
    },
  }),
  route({
    method: 'GET',
    path: '/ready',
    role: 'anyone',
    summary: 'Whether requests can be answered now; 503 where they cannot',
    run: ({ store }) => {
      const reason = storeProblem(store);
      expectWell(reason === null ? [] : [{ path: 'database', message: reason }]);
      return { ready: true };
    },
  }),
];

import { webStore } from '../access/store';
import { tableAnswers } from '../tables/thread/tableAnswers';

/** Answers as soon as the application does. The first that asks is the program that started it: from then on tables are read ahead. */
export function GET(): Response {
  tableAnswers(webStore());
  return Response.json({ state: 'up' });
}

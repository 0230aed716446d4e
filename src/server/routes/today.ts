import { route } from '../access/route';
import { tableAnswers } from '../tables/thread/tableAnswers';
import { momentsOf } from '../things/ask';

export const GET = route('viewer', null, ({ store, url }) => {
  const { survey, against } = momentsOf(store, url.searchParams);
  return tableAnswers(store).ask('today', survey, against);
});

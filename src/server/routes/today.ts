import { route } from '../access/route';
import { momentsOf } from '../things/ask';
import { today } from '../today';

export const GET = route('viewer', null, ({ store, url }) => {
  const { survey, against } = momentsOf(store, url.searchParams);
  return today(store, survey, against);
});

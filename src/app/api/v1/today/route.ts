import { route } from '@/server/access/route';
import { momentsOf } from '@/server/things/ask';
import { today } from '@/server/today';

export const GET = route('viewer', null, ({ store, url }) => {
  const { survey, against } = momentsOf(store, url.searchParams);
  return today(store, survey, against);
});

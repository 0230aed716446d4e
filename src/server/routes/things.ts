import { route } from '../access/route';
import { answerThing } from '../things/ask';

export const GET = route('viewer', null, ({ store, params, url }) =>
  answerThing(store, params.thing ?? '', url.searchParams),
);

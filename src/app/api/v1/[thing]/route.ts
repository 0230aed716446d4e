import { route } from '@/server/access/route';
import { answerThing } from '@/server/things/ask';

export const GET = route('viewer', null, ({ store, params, url }) => answerThing(store, params.thing ?? '', url.searchParams));

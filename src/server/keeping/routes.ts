import { retentionSchema } from '../../core/keeping/retention';
import { recordAct } from '../../store/audit';
import { growthOf, readRetention, saveRetention, sizesOf } from '../../store/keeping';
import { route } from '../api/route';

/** What is kept, for how long, and what it takes up. */
export const keepingRoutes = [
  route({
    method: 'GET',
    path: '/keeping',
    role: 'administrator',
    summary: 'How long things are kept, what the data take up, and how they grow',
    // all of the file is read for it
    beside: true,
    run: ({ store }) => ({
      retention: readRetention(store.db),
      sizes: sizesOf(store),
      growth: growthOf(store.db),
    }),
  }),
  route({
    method: 'PUT',
    path: '/keeping',
    role: 'administrator',
    summary: 'Say how long things are kept',
    body: retentionSchema,
    run: ({ store, person, body }) => {
      saveRetention(store.db, body);
      recordAct(store.db, person.name, 'said how long things are kept', '');
      return {};
    },
  }),
];

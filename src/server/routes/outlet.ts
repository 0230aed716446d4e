import { readOutlets, type KeptOutlet } from '../../store/outlets';
import { recordAct } from '../../store/people';
import type { Db } from '../../store/database';
import { notFound } from '../access/problem';
import { route } from '../access/route';
import { outletOf, outletSchema, writtenOutlets } from './outlets';

/** @throws Problem where there is none */
function outletNumbered(db: Db, id: string | undefined): KeptOutlet {
  const found = readOutlets(db).find((one) => one.id === Number(id));
  if (!found) throw notFound(`outlet ${id ?? ''}`);
  return found;
}

export const PUT = route('operator', outletSchema, async ({ store, person, params, body }) => {
  const { id, ...before } = outletNumbered(store.db, params.id);
  const after = await outletOf(store, body);
  const { edit } = writtenOutlets(store.db, person.name, `outlet ${after.label} of ${after.site}`, [
    { id, before, after },
  ]);
  recordAct(store.db, person.name, 'changed an outlet', `${after.label} of ${after.site}`);
  return { id, edit };
});

export const DELETE = route('operator', null, ({ store, person, params }) => {
  const { id, ...before } = outletNumbered(store.db, params.id);
  const { edit } = writtenOutlets(store.db, person.name, `outlet ${before.label} of ${before.site} deleted`, [
    { id, before, after: null },
  ]);
  recordAct(store.db, person.name, 'deleted an outlet', `${before.label} of ${before.site}`);
  return { edit };
});

import type { SaidNeed } from '../core/dependency/saidNeed';
import type { Db } from './base/database';
import { saidNeed } from './base/schema';

export type KeptNeed = SaidNeed & { id: number };

/** What people say rests on what. */
export const readSaidNeeds = (db: Db): KeptNeed[] =>
  db
    .select()
    .from(saidNeed)
    .orderBy(saidNeed.id)
    .all()
    .map(({ id, content }) => ({ ...(content as SaidNeed), id }));

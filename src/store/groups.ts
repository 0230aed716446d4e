import { asc } from 'drizzle-orm';
import type { EstateGroup } from '../core/groups/group';
import type { Db } from './base/database';
import { estateGroup } from './base/schema';

export type KeptGroup = EstateGroup & { id: number };

export const readGroups = (db: Db): KeptGroup[] => db.select().from(estateGroup).orderBy(asc(estateGroup.name)).all();

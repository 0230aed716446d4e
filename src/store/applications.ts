import { asc } from 'drizzle-orm';
import type { Application } from '../core/applications/application';
import type { Db } from './base/database';
import { application } from './base/schema';

export type KeptApplication = Application & { id: number };

export const readApplications = (db: Db): KeptApplication[] =>
  db
    .select()
    .from(application)
    .orderBy(asc(application.name))
    .all()
    .map(({ id, name, content }) => ({ ...(content as Omit<Application, 'name'>), name, id }));

import { eq } from 'drizzle-orm';
import { scopeDefaults, type ScopeText } from '../core/estate/scope';
import type { Db } from './base/database';
import { scope } from './base/schema';

export function saveScope(db: Db, body: ScopeText): number {
  return db
    .insert(scope)
    .values({ name: body.name, body })
    .onConflictDoUpdate({ target: scope.name, set: { body } })
    .returning({ id: scope.id })
    .get().id;
}

/** Scopes; one that was saved before a field was thought of has its default. */
export function listScopes(db: Db): { id: number; scope: ScopeText }[] {
  return db
    .select()
    .from(scope)
    .all()
    .map(({ id, body }) => ({ id, scope: { ...scopeDefaults, ...(body as ScopeText) } }));
}

export function deleteScope(db: Db, id: number): string | null {
  return db.delete(scope).where(eq(scope.id, id)).returning({ name: scope.name }).get()?.name ?? null;
}

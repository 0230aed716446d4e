import { eq } from 'drizzle-orm';
import { scopeDefaults, type ScopeText } from '../core/estate/scope';
import type { Db } from './base/database';
import { scope } from './base/schema';

/** Saves a scope; one with the number, or of the same name, is taken the place of. */
export function saveScope(db: Db, body: ScopeText, id?: number): number {
  const { name } = body;
  const target = id === undefined ? scope.name : scope.id;
  return db
    .insert(scope)
    .values({ ...(id !== undefined && { id }), name, body })
    .onConflictDoUpdate({ target, set: { name, body } })
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

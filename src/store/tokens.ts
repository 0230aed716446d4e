import { eq } from 'drizzle-orm';
import type { Db } from './base/database';
import type { Person, TokenRole } from './people';
import { token } from './base/schema';
import { hashToken, newToken } from './vault';

/** Makes a token; its text is told once and kept nowhere. */
export function addToken(db: Db, name: string, role: TokenRole): string {
  const text = newToken();
  db.insert(token)
    .values({ name, hash: hashToken(text), role, createdAt: new Date().toISOString() })
    .run();
  return text;
}

export function tokenOwner(db: Db, text: string): Person | null {
  const row = db
    .select()
    .from(token)
    .where(eq(token.hash, hashToken(text)))
    .get();
  return row ? { id: 0, name: row.role === 'collector' ? row.name : `token ${row.name}`, role: row.role } : null;
}

import { and, asc, eq, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { nowhere, type Approval } from '../core/estate/approval';
import { writes, type Credential, type CredentialPurpose } from '../core/estate/credential';
import type { Db, Store } from './base/database';
import { credential } from './base/schema';
import { listScopes } from './scopes';
import { openSecret, sealSecret, vaultKey } from './vault';

/** What may be shown of a credential: never its secrets. */
export interface ShownCredential {
  id: number;
  name: string;
  kind: Credential['kind'];
  user?: string;
  auth?: string;
  priv?: string;
  purpose?: CredentialPurpose;
  /** where its secret may be sent */
  approved: Approval;
  /** when its secret was entered; not known of those that were entered before it was kept */
  secretAt?: string;
}

/** What is told of a credential, never its secrets. */
export const toldOf = (value: Credential): Omit<ShownCredential, 'id' | 'secretAt'> => ({
  name: value.name,
  kind: value.kind,
  ...('user' in value && { user: value.user }),
  ...(value.kind === 'snmp3' && value.auth && { auth: value.auth.protocol }),
  ...(value.kind === 'snmp3' && value.priv && { priv: value.priv.protocol }),
  ...(writes(value) && { purpose: 'write' as const }),
  approved: value.approved ?? nowhere,
});

/** What is approved of a row; nothing where it does not say. */
const approvedIn = (shown: unknown): Approval => (shown as { approved?: Approval }).approved ?? nowhere;

/** Keeps a credential, its secret sealed; one of the same name is taken the place of, and may be sent where that might, unless something else is said. */
export function saveCredential(store: Store, value: Credential, now = new Date()): number {
  const { name: _name, kind: _kind, ...told } = toldOf(value);
  const known = store.db.select().from(credential).where(eq(credential.name, value.name)).get();
  // a new secret goes where the one before it went
  const approved = value.approved ?? (known && known.deletedAt === null ? approvedIn(known.shown) : nowhere);
  const shown = { ...told, approved, secretAt: now.toISOString() };
  // where it may be sent is changed without its being entered anew
  const { approved: _approved, ...secret } = value;
  const sealed = sealSecret(vaultKey(store.folder), secret);
  const position =
    (store.db
      .select({ position: sql<number>`coalesce(max(position), 0)` })
      .from(credential)
      .get()?.position ?? 0) + 1;
  return store.db
    .insert(credential)
    .values({ name: value.name, kind: value.kind, position, shown, sealed })
    .onConflictDoUpdate({ target: credential.name, set: { kind: value.kind, shown, sealed, deletedAt: null } })
    .returning({ id: credential.id })
    .get().id;
}

export function listCredentials(db: Db): ShownCredential[] {
  return db
    .select()
    .from(credential)
    .where(isNull(credential.deletedAt))
    .orderBy(asc(credential.position))
    .all()
    .map(({ id, name, kind, shown }) => ({
      id,
      name,
      kind: kind as Credential['kind'],
      ...(shown as object),
      approved: approvedIn(shown),
    }));
}

/** Approves other places for a credential, whose secret stays. */
export function approvePlaces(db: Db, id: number, approved: Approval): void {
  const row = db.select({ shown: credential.shown }).from(credential).where(eq(credential.id, id)).get();
  if (!row) return;
  db.update(credential)
    .set({ shown: { ...(row.shown as object), approved } })
    .where(eq(credential.id, id))
    .run();
}

/** Credentials with their secrets, in the order of `names`; for the engine only. What is kept for acting is given to nobody who asks to read. */
export function openCredentials(
  store: Store,
  names: string[],
  purpose: CredentialPurpose | 'any' = 'read',
): Credential[] {
  const key = vaultKey(store.folder);
  const all = store.db
    .select()
    .from(credential)
    .where(isNull(credential.deletedAt))
    .orderBy(asc(credential.position))
    .all();
  return names
    .flatMap((name) => {
      const row = all.find((candidate) => candidate.name === name);
      return row ? [{ ...(openSecret(key, row.sealed) as Credential), approved: approvedIn(row.shown) }] : [];
    })
    .filter((found) => purpose === 'any' || writes(found) === (purpose === 'write'));
}

const restorableMs = 3_600_000;

/** Takes a credential away; within an hour it can be brought back. */
export const deleteCredential = (db: Db, id: number, now = new Date()): string | null =>
  db
    .update(credential)
    .set({ deletedAt: now.toISOString() })
    .where(and(eq(credential.id, id), isNull(credential.deletedAt)))
    .returning({ name: credential.name })
    .get()?.name ?? null;

/** Wipes what was deleted more than an hour ago: neither the file nor its log holds it any more. @returns how many */
export function wipeDeleted({ db, raw }: Pick<Store, 'db' | 'raw'>, now = new Date()): number {
  const before = new Date(now.getTime() - restorableMs).toISOString();
  const old = lt(credential.deletedAt, before);
  // whoever has nothing to do writes nothing
  if (!db.select({ id: credential.id }).from(credential).where(old).get()) return 0;
  const { changes } = db.delete(credential).where(old).run();
  raw.pragma('wal_checkpoint(TRUNCATE)');
  return changes;
}

/** Brings a deleted credential back, if it was not wiped yet. */
export function restoreCredential(db: Db, id: number): string | null {
  return (
    db
      .update(credential)
      .set({ deletedAt: null })
      .where(and(eq(credential.id, id), isNotNull(credential.deletedAt)))
      .returning({ name: credential.name })
      .get()?.name ?? null
  );
}

/** Names of the scopes that try a credential. */
export function scopesTrying(db: Db, credentialId: number): string[] {
  const name = db.select({ name: credential.name }).from(credential).where(eq(credential.id, credentialId)).get()?.name;
  return listScopes(db)
    .filter(
      ({ scope: { credentials, writeCredentials } }) =>
        name !== undefined && [...credentials, ...writeCredentials].includes(name),
    )
    .map(({ scope: { name: scopeName } }) => scopeName);
}

import { and, asc, eq, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { writes, type Credential, type CredentialPurpose } from '../core/estate/credential';
import type { SiteRule } from '../core/estate/interpret';
import { scopeDefaults, type ScopeText } from '../core/estate/scope';
import type { CatalogueRelease } from '../core/firmware/readiness';
import type { Db, Store } from './database';
import { catalogueRelease, credential, maker, scope, setting, target } from './schema';
import { openSecret, sealSecret, vaultKey } from './vault';

/** `sgh-core-1` and `rpw-plat` name their site by what stands before the first hyphen. */
const defaultSiteRules: SiteRule[] = [{ field: 'name', pattern: '^([a-z]{2,4})-' }];

export function readSiteRules(db: Db): SiteRule[] {
  const row = db.select().from(setting).where(eq(setting.key, 'siteRules')).get();
  return (row?.value as SiteRule[] | undefined) ?? defaultSiteRules;
}

/** What may be shown of a credential: never its secrets. */
export interface ShownCredential {
  id: number;
  name: string;
  kind: Credential['kind'];
  user?: string;
  auth?: string;
  priv?: string;
  purpose?: CredentialPurpose;
}

export function saveCredential(store: Store, value: Credential): void {
  const shown = {
    ...('user' in value && { user: value.user }),
    ...(value.kind === 'snmp3' && { auth: value.auth?.protocol, priv: value.priv?.protocol }),
    ...(writes(value) && { purpose: 'write' }),
  };
  const sealed = sealSecret(vaultKey(store.folder), value);
  const position =
    (store.db
      .select({ position: sql<number>`coalesce(max(position), 0)` })
      .from(credential)
      .get()?.position ?? 0) + 1;
  store.db
    .insert(credential)
    .values({ name: value.name, kind: value.kind, position, shown, sealed })
    .onConflictDoUpdate({ target: credential.name, set: { kind: value.kind, shown, sealed, deletedAt: null } })
    .run();
}

export function listCredentials(db: Db): ShownCredential[] {
  return db
    .select()
    .from(credential)
    .where(isNull(credential.deletedAt))
    .orderBy(asc(credential.position))
    .all()
    .map(({ id, name, kind, shown }) => ({ id, name, kind: kind as Credential['kind'], ...(shown as object) }));
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
      return row ? [openSecret(key, row.sealed) as Credential] : [];
    })
    .filter((found) => purpose === 'any' || writes(found) === (purpose === 'write'));
}

const restorableMs = 3_600_000;

/** Takes a credential away; within an hour it can be brought back. What was deleted earlier is wiped. */
export function deleteCredential(db: Db, id: number, now = new Date()): string | null {
  db.delete(credential)
    .where(lt(credential.deletedAt, new Date(now.getTime() - restorableMs).toISOString()))
    .run();
  return (
    db
      .update(credential)
      .set({ deletedAt: now.toISOString() })
      .where(and(eq(credential.id, id), isNull(credential.deletedAt)))
      .returning({ name: credential.name })
      .get()?.name ?? null
  );
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

export function readCatalogue(db: Db): CatalogueRelease[] {
  return db
    .select()
    .from(catalogueRelease)
    .all()
    .map(({ body }) => body as CatalogueRelease);
}

export function addRelease(db: Db, release: CatalogueRelease): void {
  const { vendor, family } = release;
  db.insert(catalogueRelease)
    .values({ vendor, family, release: release.release, body: release })
    .onConflictDoUpdate({
      target: [catalogueRelease.vendor, catalogueRelease.family, catalogueRelease.release],
      set: { body: release },
    })
    .run();
}

export interface Target {
  vendor: string;
  family: string;
  release: string;
  setBy: string;
  setAt: string;
  /** for the devices of this group; empty for all of the family */
  group: string;
}

export function readTargets(db: Db): Target[] {
  return db.select().from(target).all();
}

/** Sets the target of a family, or of its devices in a group, or takes it away with null. */
export function setTarget(
  db: Db,
  vendor: string,
  family: string,
  release: string | null,
  setBy: string,
  group = '',
): void {
  if (release === null) {
    db.delete(target)
      .where(and(eq(target.vendor, vendor), eq(target.family, family), eq(target.group, group)))
      .run();
    return;
  }
  const setAt = new Date().toISOString();
  db.insert(target)
    .values({ vendor, family, release, setBy, setAt, group })
    .onConflictDoUpdate({ target: [target.vendor, target.family, target.group], set: { release, setBy, setAt } })
    .run();
}

export function saveMakers(db: Db, makers: { prefix: string; name: string }[]): void {
  for (const { prefix, name } of makers)
    db.insert(maker)
      .values({ prefix: prefix.toLowerCase(), name })
      .onConflictDoUpdate({ target: maker.prefix, set: { name } })
      .run();
}

export function readMakers(db: Db): Map<string, string> {
  return new Map(
    db
      .select()
      .from(maker)
      .all()
      .map(({ prefix, name }) => [prefix, name]),
  );
}

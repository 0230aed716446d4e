import { createHash, randomBytes } from 'node:crypto';
import { chmodSync, existsSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { eq } from 'drizzle-orm';
import { inTransaction, type Store } from './base/db';
import { credential, setting } from './base/schema';
import { forgetMailServer, mailSealed, resealMail } from './mailServer';
import { keyFile, NoKey, openSecret, readKeyFile, sealSecret } from './vault';

/** Which key the secrets of a database are sealed under: a digest of it, which says nothing of the key. */
const settingKey = 'sealedUnder';
const digestOf = (key: Buffer): string => createHash('sha256').update('which key').update(key).digest('hex');

const sealedUnder = ({ db }: Store): string | null =>
  (db.select().from(setting).where(eq(setting.key, settingKey)).get()?.value as string | undefined) ?? null;

function tellSealedUnder({ db }: Store, key: Buffer): void {
  const value = digestOf(key);
  db.insert(setting)
    .values({ key: settingKey, value })
    .onConflictDoUpdate({ target: setting.key, set: { value } })
    .run();
}

function writeKey(file: string, key: Buffer): void {
  writeFileSync(file, key.toString('hex'), { mode: 0o600, flag: 'wx' });
  chmodSync(file, 0o600);
}

/** How many secrets are stored, the deleted ones that can still be brought back among them. */
function sealedCount(store: Store): number {
  return store.db.select({ id: credential.id }).from(credential).all().length + (mailSealed(store) === null ? 0 : 1);
}

function opensAll(store: Store, key: Buffer): boolean {
  const mail = mailSealed(store);
  const all = [
    ...store.db
      .select({ sealed: credential.sealed })
      .from(credential)
      .all()
      .map(({ sealed }) => sealed),
    ...(mail ? [mail] : []),
  ];
  return all.every((sealed) => {
    try {
      openSecret(key, sealed);
      return true;
    } catch {
      return false;
    }
  });
}

const candidates = (folder: string): string[] =>
  ['', '.new', '.old'].map((end) => `${keyFile(folder)}${end}`).filter((file) => existsSync(file));

function keyIn(file: string): Buffer | null {
  try {
    return readKeyFile(file);
  } catch (error) {
    if (error instanceof NoKey) return null;
    throw error;
  }
}

/** Puts the key where it belongs, when a data folder is opened: made where there is none and nothing is sealed; where a change of keys was broken off, that which fits. */
export function settleKey(store: Store): void {
  const main = keyIn(keyFile(store.folder));
  const told = sealedUnder(store);
  if (main !== null && told === digestOf(main) && candidates(store.folder).length === 1) return;
  // whoever changes the key holds the lock until it is done
  inTransaction(store.db, () => settle(store));
}

function settle(store: Store): void {
  const { folder } = store;
  const file = keyFile(folder);
  const told = sealedUnder(store);
  const fits = candidates(folder).find((one) => {
    const key = keyIn(one);
    return key !== null && (told === null ? opensAll(store, key) : told === digestOf(key));
  });
  if (fits !== undefined) {
    if (fits !== file) renameSync(fits, file);
    for (const other of candidates(folder)) if (other !== file) rmSync(other);
    if (told === null) tellSealedUnder(store, readKeyFile(file));
    return;
  }
  // what is sealed under a key that is not here waits for it
  if (sealedCount(store) > 0) return;
  const key = keyIn(file) ?? randomBytes(32);
  if (!existsSync(file)) writeKey(file, key);
  tellSealedUnder(store, key);
}

/** Why stored secrets cannot be read, and what to do; null where they can. */
export function keyProblem(store: Store): string | null {
  const count = sealedCount(store);
  if (count === 0) return null;
  const file = keyFile(store.folder);
  const secrets = count === 1 ? 'a stored secret is' : `${count} stored secrets are`;
  const remedy = `Put the right file back there (mode 600), from where it was kept; if it is lost for good, “bolide key new --forget-secrets --data ${store.folder}” makes another one, and credentials are entered anew.`;
  const key = keyIn(file);
  if (key === null) return `${file} is missing or holds no key, and ${secrets} sealed under it. ${remedy}`;
  return sealedUnder(store) === digestOf(key) ? null : `${file} is not the key that ${secrets} sealed under. ${remedy}`;
}

/**
 * Seals all secrets under a new key. Whatever happens on the way, the key that fits what is stored can be found again (`settleKey`).
 * People sign in anew, since sessions follow from the key.
 * @returns how many were sealed anew
 * @throws NoKey where the key before does not open them
 */
export function rotateKey(store: Store): number {
  const file = keyFile(store.folder);
  const problem = keyProblem(store);
  if (problem !== null) throw new NoKey(problem);
  const before = readKeyFile(file);
  const after = randomBytes(32);
  rmSync(`${file}.new`, { force: true });
  writeKey(`${file}.new`, after);
  const count = inTransaction(store.db, () => {
    const rows = store.db.select({ id: credential.id, sealed: credential.sealed }).from(credential).all();
    for (const { id, sealed } of rows)
      store.db
        .update(credential)
        .set({ sealed: sealSecret(after, openSecret(before, sealed)) })
        .where(eq(credential.id, id))
        .run();
    const mail = resealMail(store, (sealed) => sealSecret(after, openSecret(before, sealed)));
    tellSealedUnder(store, after);
    renameSync(file, `${file}.old`);
    renameSync(`${file}.new`, file);
    return rows.length + mail;
  });
  rmSync(`${file}.old`, { force: true });
  return count;
}

/** Another key where the one before is lost: what was sealed under that is taken away. @returns how many secrets are gone */
export function newKey(store: Store): number {
  const file = keyFile(store.folder);
  const key = randomBytes(32);
  return inTransaction(store.db, () => {
    const { changes } = store.db.delete(credential).run();
    const mail = mailSealed(store) === null ? 0 : 1;
    if (mail > 0) forgetMailServer(store);
    rmSync(file, { force: true });
    writeKey(file, key);
    tellSealedUnder(store, key);
    return changes + mail;
  });
}

import { eq } from 'drizzle-orm';
import type { MailServer } from '../core/mail/mailServer';
import type { Store } from './base/db';
import { setting } from './base/schema';
import { openSecret, sealSecret, vaultKey } from './vault';

const key = 'mail';

interface KeptMail {
  server: MailServer;
  /** the password, encrypted under the key file, base64; empty for none */
  sealed: string;
}

const kept = ({ db }: Store): KeptMail | null =>
  (db.select().from(setting).where(eq(setting.key, key)).get()?.value as KeptMail | undefined) ?? null;

/** The mail server, without its password. */
export function readMailServer(store: Store): { server: MailServer; hasPassword: boolean } | null {
  const mail = kept(store);
  return mail && { server: mail.server, hasPassword: mail.sealed !== '' };
}

/** Its password; for sending only. */
export function mailPassword(store: Store): string {
  const sealed = kept(store)?.sealed ?? '';
  return sealed === '' ? '' : String(openSecret(vaultKey(store.folder), Buffer.from(sealed, 'base64')));
}

/** @param password undefined for the one that is kept */
export function saveMailServer(store: Store, server: MailServer, password: string | undefined): void {
  const sealed =
    password === undefined
      ? (kept(store)?.sealed ?? '')
      : password === ''
        ? ''
        : sealSecret(vaultKey(store.folder), password).toString('base64');
  const value: KeptMail = { server, sealed: server.user === '' ? '' : sealed };
  store.db.insert(setting).values({ key, value }).onConflictDoUpdate({ target: setting.key, set: { value } }).run();
}

export function forgetMailServer({ db }: Store): void {
  db.delete(setting).where(eq(setting.key, key)).run();
}

/** Its sealed password; null where none is kept. */
export function mailSealed(store: Store): Buffer | null {
  const sealed = kept(store)?.sealed ?? '';
  return sealed === '' ? null : Buffer.from(sealed, 'base64');
}

/** Seals its password anew. @returns how many there are: one or none */
export function resealMail(store: Store, anew: (sealed: Buffer) => Buffer): number {
  const mail = kept(store);
  if (!mail || mail.sealed === '') return 0;
  const value: KeptMail = { ...mail, sealed: anew(Buffer.from(mail.sealed, 'base64')).toString('base64') };
  store.db.update(setting).set({ value }).where(eq(setting.key, key)).run();
  return 1;
}

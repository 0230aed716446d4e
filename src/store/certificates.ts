import { and, eq } from 'drizzle-orm';
import type { Db } from './base/database';
import { pinnedCertificate } from './base/schema';

/** The certificates that devices showed, kept from survey to survey. */
export class PinnedCertificates {
  constructor(
    readonly db: Db,
    readonly now: () => Date,
  ) {}

  pinned(address: string, port: number): string | null {
    return this.#row(address, port)?.fingerprint ?? null;
  }

  pin(address: string, port: number, fingerprint: string, subject: string): void {
    this.db
      .insert(pinnedCertificate)
      .values({ address, port, fingerprint, subject, pinnedAt: this.now().toISOString() })
      .onConflictDoNothing()
      .run();
  }

  offered(address: string, port: number, fingerprint: string): void {
    if (this.#row(address, port)?.offered === fingerprint) return;
    this.db
      .update(pinnedCertificate)
      .set({ offered: fingerprint, offeredAt: this.now().toISOString() })
      .where(at(address, port))
      .run();
  }

  #row(address: string, port: number) {
    return this.db.select().from(pinnedCertificate).where(at(address, port)).get();
  }
}

/** Trusts the certificate that was offered last. Null where none was. */
export function acceptOffered(db: Db, address: string, port: number, now: Date): string | null {
  const row = db.select().from(pinnedCertificate).where(at(address, port)).get();
  if (!row?.offered) return null;
  db.update(pinnedCertificate)
    .set({ fingerprint: row.offered, pinnedAt: now.toISOString(), offered: null, offeredAt: null })
    .where(at(address, port))
    .run();
  return row.offered;
}

/** Certificates that changed and wait for a person. */
export function changedCertificates(db: Db) {
  return db
    .select()
    .from(pinnedCertificate)
    .all()
    .flatMap((row) => (row.offered === null ? [] : [{ ...row, offered: row.offered }]));
}

const at = (address: string, port: number) =>
  and(eq(pinnedCertificate.address, address), eq(pinnedCertificate.port, port));

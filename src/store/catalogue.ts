import { and, eq } from 'drizzle-orm';
import type { CatalogueRelease } from '../core/firmware/readiness';
import type { Db } from './base/database';
import { catalogueRelease } from './base/schema';

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

export function deleteRelease(
  db: Db,
  { vendor, family, release }: Pick<CatalogueRelease, 'vendor' | 'family' | 'release'>,
): void {
  const own = and(
    eq(catalogueRelease.vendor, vendor),
    eq(catalogueRelease.family, family),
    eq(catalogueRelease.release, release),
  );
  db.delete(catalogueRelease).where(own).run();
}

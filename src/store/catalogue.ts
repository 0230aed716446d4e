import { and, eq } from 'drizzle-orm';
import { completeRelease, type CatalogueRelease, type ReleaseName, type ToldRelease } from '../core/firmware/catalogue';
import type { Db } from './base/database';
import { catalogueRelease } from './base/schema';

export function readCatalogue(db: Db): CatalogueRelease[] {
  return db
    .select()
    .from(catalogueRelease)
    .all()
    .map(({ body }) => completeRelease(body as ToldRelease));
}

export function addRelease(db: Db, release: CatalogueRelease): void {
  const { vendor, family, component } = release;
  db.insert(catalogueRelease)
    .values({ vendor, family, component, release: release.release, body: release })
    .onConflictDoUpdate({
      target: [catalogueRelease.vendor, catalogueRelease.family, catalogueRelease.component, catalogueRelease.release],
      set: { body: release },
    })
    .run();
}

export function deleteRelease(db: Db, { vendor, family, component, release }: ReleaseName): void {
  const own = and(
    eq(catalogueRelease.vendor, vendor),
    eq(catalogueRelease.family, family),
    eq(catalogueRelease.component, component),
    eq(catalogueRelease.release, release),
  );
  db.delete(catalogueRelease).where(own).run();
}

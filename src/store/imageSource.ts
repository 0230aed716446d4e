import { eq } from 'drizzle-orm';
import type { Db } from './base/database';
import { setting } from './base/schema';

/** From where devices fetch images, and whether a second person approves. */
export interface ImageSource {
  /** by which name or address devices reach this machine; empty until somebody says it */
  reachedAs: string;
  /** on which address it listens: `0.0.0.0` for all */
  listenOn: string;
  port: number;
  needsApproval: boolean;
}

const key = 'imageSource';
export const usualImagePort = 4790;
const usual: ImageSource = { reachedAs: '', listenOn: '0.0.0.0', port: usualImagePort, needsApproval: false };

export const readImageSource = (db: Db): ImageSource => ({
  ...usual,
  ...(db.select().from(setting).where(eq(setting.key, key)).get()?.value as ImageSource | undefined),
});

export function saveImageSource(db: Db, value: ImageSource): void {
  db.insert(setting).values({ key, value }).onConflictDoUpdate({ target: setting.key, set: { value } }).run();
}

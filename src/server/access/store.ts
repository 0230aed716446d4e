import { isMainThread } from 'node:worker_threads';
import { openStore, type Store } from '../../store/base/database';

const place = globalThis as { bolideStore?: Store };

/** The data folder of this web process, opened once. Whoever writes for long is waited for before a request is answered (`gate`), not in the middle of it. */
export function webStore(): Store {
  const folder = process.env.BOLIDE_DATA;
  if (!folder) throw new Error('BOLIDE_DATA is not set: start the application with “bolide serve”');
  place.bolideStore ??= openStore(folder, { waitMs: isMainThread ? 500 : 30_000 });
  return place.bolideStore;
}

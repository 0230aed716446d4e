import { setTimeout as pause } from 'node:timers/promises';
import * as yup from 'yup';
import { faster, usualPatience } from '../../core/firmware/doing/course';
import type { Store } from '../../store/base/database';
import { imagesFolder } from '../../store/images';
import { readImageSource } from '../../store/imageSource';
import { endUpgrade, fileOfWord, isDoneByAnother, readUpgrade, type UpgradeJob } from '../../store/upgrades';
import { ImageServer } from '../doing/imageServer';
import { openForUpdate } from '../doing/openForUpdate';
import { runUpgrade } from '../doing/runUpgrade';
import { surveyAgain } from '../doing/surveyAgain';
import { jobKind } from './jobKind';

const payload = yup
  .object({ upgradeId: yup.number().integer().required() })
  .noUnknown() as unknown as yup.Schema<UpgradeJob>;

/** An upgrade takes a night, and outlives whoever does it: it is taken up again and again. */
const attempts = 100_000;
const waitMs = 500;
const lookMs = 10_000;

/** Does an upgrade, from wherever it is. */
export const upgradeJob = jobKind<UpgradeJob>({
  kind: 'upgrade',
  lane: 'firmware',
  payload,
  attempts,
  resumes: () => true,
  run: async ({ store, job, body: { upgradeId }, signal }) => {
    while (isDoneByAnother(store.db, upgradeId, job.id)) await pause(waitMs, undefined, { signal });
    const { listenOn, port, reachedAs } = readImageSource(store.db);
    const pace = Number(process.env.BOLIDE_UPGRADE_PACE) || 1;
    const wasRunning = readUpgrade(store.db, upgradeId)?.state === 'running';
    await withImages(store, listenOn, port, () =>
      runUpgrade(store, upgradeId, signal, {
        open: (kept, url) => openForUpdate(store, kept, url),
        imagesAt: `http://${reachedAs.includes(':') ? `[${reachedAs}]` : reachedAs}:${port}`,
        pause: (milliseconds) => pause(milliseconds),
        lookMs: lookMs / pace,
        patience: faster(usualPatience, pace),
      }),
    );
    const isOver = ['ended', 'stopped'].includes(readUpgrade(store.db, upgradeId)?.state ?? '');
    if (wasRunning && isOver) surveyAgain(store, upgradeId);
    return { upgradeId };
  },
  undone: (store, job, why) => {
    const { upgradeId } = job.body as UpgradeJob;
    const state = readUpgrade(store.db, upgradeId)?.state;
    if (state === 'running' || state === 'paused')
      endUpgrade(store.db, upgradeId, 'stopped', `it was broken off: ${why}`);
  },
});

let server: { given: ImageServer; users: number; ready: Promise<unknown> } | null = null;

/** Gives images as long as any upgrade is under way. @throws Error where the port is taken */
async function withImages(store: Store, listenOn: string, port: number, work: () => Promise<void>): Promise<void> {
  if (!server) {
    const given = new ImageServer(imagesFolder(store.folder), (word) => fileOfWord(store.db, word));
    server = { given, users: 0, ready: given.listen(listenOn, port) };
  }
  const own = server;
  own.users++;
  try {
    await own.ready.catch((error: unknown) => {
      throw new Error(`images cannot be given on port ${port}: ${(error as Error).message}`);
    });
    await work();
  } finally {
    own.users--;
    if (own.users === 0) {
      server = null;
      await own.given.close();
    }
  }
}

import { existsSync } from 'node:fs';
import type { Command } from 'commander';
import { readNewImages, settledMs } from '../../collect/images/readImages';
import { thingRows } from '../../server/query/query';
import { latestSealed } from '../../store/base/sealedSurveys';
import { databaseFile, openStore } from '../../store/base/database';
import { imagesFolder } from '../../store/images';
import { CommandError, exitCodes } from '../exit';

export function addImagesCommand(program: Command): void {
  program
    .command('images')
    .description('read the images in the folder of images, and hold each against the catalogue')
    .requiredOption('--data <dir>', 'data folder')
    .option('--json', 'one JSON object on standard output')
    .action(async ({ data, json }: { data: string; json?: boolean }) => {
      if (!existsSync(databaseFile(data))) throw new CommandError(`--data: there is no data in “${data}”`);
      const store = openStore(data);
      try {
        // whoever calls this has put them there: nobody waits for files to settle
        await readNewImages(store, () => Date.now() + settledMs);
        const images = thingRows(store, 'images', latestSealed(store.db), null);
        if (json) process.stdout.write(`${JSON.stringify({ folder: imagesFolder(store.folder), images })}\n`);
        else
          for (const { name, state, words } of images)
            process.stdout.write(`${name as string}  ${state as string}: ${words as string}\n`);
        if (images.some(({ state }) => String(state).startsWith('wrong'))) process.exitCode = exitCodes.failed;
      } finally {
        store.close();
      }
    });
}

import type { Command } from 'commander';
import { Collector } from '../../collect/collector/collector';
import { ServerLink } from '../../collect/collector/serverLink';
import { Spool } from '../../collect/collector/spool';
import { programVersion } from '../../store/programFiles';
import { CommandError } from '../exit';

export function addCollectorCommand(program: Command): void {
  program
    .command('collector')
    .description('ask equipment at another site for a server elsewhere')
    .requiredOption('--server <url>', 'where the server is: https://…')
    .option(
      '--token <token>',
      'the token that adding the collector told; else BOLIDE_TOKEN in the environment, where others cannot read it',
    )
    .option('--spool <dir>', 'folder for what was collected and has not arrived yet', 'spool')
    .action(
      async ({
        server,
        token = process.env.BOLIDE_TOKEN ?? '',
        spool,
      }: {
        server: string;
        token?: string;
        spool: string;
      }) => {
        const stop = new AbortController();
        for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => stop.abort());
        if (token === '')
          throw new CommandError('--token: give the token that adding the collector told, or set BOLIDE_TOKEN');
        const link = new ServerLink(serverAddress(server), token, stop.signal);
        await new Collector(link, openSpool(spool), programVersion(), stop.signal, (words) =>
          console.error(`${new Date().toISOString()} ${words}`),
        ).run();
      },
    );
}

/** Secrets and inventory go there: plain HTTP is for this machine only. */
function serverAddress(text: string): string {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    throw new CommandError(`--server: “${text}” is no address of a server: write it like https://bolide.example:4717`);
  }
  const local = /^(127(\.\d+){3}|localhost|\[::1\])$/.test(url.hostname);
  if (url.protocol !== 'https:' && !(url.protocol === 'http:' && local))
    throw new CommandError(`--server: “${text}” is not https, and credentials would cross the network in clear`);
  return `${url.origin}${url.pathname.replace(/\/+$/, '')}`;
}

function openSpool(folder: string): Spool {
  try {
    return new Spool(folder);
  } catch (error) {
    throw new CommandError(`--spool: “${folder}” cannot be used: ${(error as Error).message}`);
  }
}

import type { Command } from 'commander';
import { Collector } from '../../collect/collector/collector';
import { ServerLink } from '../../collect/collector/serverLink';
import { programVersion } from '../../store/programFiles';
import { CommandError } from '../exit';
import { openSpool, serverAddress } from './toServer';

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

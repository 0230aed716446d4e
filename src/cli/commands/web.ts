import type { Command } from 'commander';
import next from 'next';
import { programFolder } from '../../store/base/database';
import { answerPings } from '../serving/pings';
import { listen, type Listening } from '../web/webServer';

const partingMs = 3000;

/** The application, which `bolide serve` starts: pages and API. */
export function addWebCommand(program: Command): void {
  program
    .command('web', { hidden: true })
    .requiredOption('--listening <json>')
    .action(async (options: { listening: string }) => {
      const listening = JSON.parse(options.listening) as Listening;
      const { host: hostname, port } = listening;
      const application = next({ dir: programFolder(), dev: false, hostname, port });
      await application.prepare();
      const { server } = await listen(application.getRequestHandler(), listening);
      // what is being answered is answered, but nobody waits long for it
      const part = () => {
        setTimeout(() => process.exit(0), partingMs).unref();
        server.close(() => process.exit(0));
        server.closeIdleConnections();
      };
      for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, part);
      answerPings();
    });
}

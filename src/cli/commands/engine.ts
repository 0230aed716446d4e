import { constants, setPriority } from 'node:os';
import type { Command } from 'commander';
import { runEngine } from '../../collect/jobs/engine';
import { workerName } from '../../collect/jobs/worker';
import { exitCodes } from '../exit';
import { answerPings } from '../serving/pings';

/** The engine, which `bolide serve` starts beside the application. */
export function addEngineCommand(program: Command): void {
  program
    .command('engine', { hidden: true })
    .requiredOption('--data <dir>')
    .requiredOption('--mark <mark>')
    .action(async ({ data, mark }: { data: string; mark: string }) => {
      // a job in flight is resumed by the next engine
      for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => process.exit(0));
      answerPings();
      // a survey has time; whoever looks at a screen has none
      setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
      try {
        await runEngine(data, () => false, workerName(mark));
      } catch (error) {
        // it dies whole: what else goes on in it would be half an engine
        console.error('the engine:', error);
        process.exit(exitCodes.failed);
      }
    });
}

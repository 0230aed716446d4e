import { existsSync, writeFileSync } from 'node:fs';
import { Option, type Command } from 'commander';
import { parseAddress } from '../../core/values/ipAddress';
import { storyLength } from '../../sim/ostermere/estate';
import { sampleHardwareUser } from '../../sim/ostermere/controllers';
import { Fleet, sampleCommunity, sampleUser } from '../../sim/ostermere/fleet';
import { truthOf } from '../../sim/ostermere/truthFile';
import { agentsFromWalks } from '../../sim/walks';
import { CommandError, wholeNumber } from '../exit';

export function addSimCommand(program: Command): void {
  program
    .command('sim')
    .description('simulated agents on loopback, and nothing else')
    .option('--scenario', 'the sample estate')
    .option('--walks <dir>', 'agents that answer what walk files hold')
    .option('--base <address>', 'loopback network of the agents', '127.72.0.0')
    .option('--port <n>', 'port of the agents', wholeNumber('--port', 1, 65_535), 1161)
    .option('--truth <file>', 'write what the sample estate really is, and the oddities planted in it, as JSON')
    .option('--https-port <n>', 'port of Redfish and controllers', wholeNumber('--https-port', 1, 65_535), 1443)
    .addOption(
      new Option('--step <n>', 'step of the sample story')
        .argParser(wholeNumber('--step', 1, storyLength))
        .default(storyLength),
    )
    .action(
      async (options: {
        scenario?: boolean;
        walks?: string;
        base: string;
        port: number;
        httpsPort: number;
        step: number;
        truth?: string;
      }) => {
        if (Boolean(options.scenario) === Boolean(options.walks))
          throw new CommandError('Give one of --scenario and --walks');
        const base = readBase(options.base);
        if (options.truth !== undefined) {
          if (!options.scenario) throw new CommandError('--truth: walk files have none; it goes with --scenario');
          writeFileSync(options.truth, JSON.stringify(truthOf(options.step), null, 2));
        }
        let close: () => void;
        if (options.walks === undefined) {
          const fleet = new Fleet(base, options.port, options.httpsPort);
          await fleet.moveTo(options.step);
          await fleet.makeReady();
          console.log(
            `${fleet.size} agents on ${base}/16 port ${options.port}; SNMPv3 user ${sampleUser.name}, community ${sampleCommunity}; ${fleet.services} Redfish services on port ${options.httpsPort}, user ${sampleHardwareUser.user}`,
          );
          close = () => fleet.close();
        } else {
          if (!existsSync(options.walks)) throw new CommandError(`--walks: “${options.walks}” is no folder`);
          const { agents, problems } = agentsFromWalks(options.walks, base, options.port);
          for (const problem of problems) console.error(problem);
          if (agents.length === 0) throw new CommandError(`--walks: no walk in “${options.walks}”`);
          for (const agent of agents) await agent.listen();
          console.log(`${agents.length} agents on ${base}/16 port ${options.port}, community public`);
          close = () => agents.forEach((agent) => agent.close());
        }
        await new Promise<void>((resolve) => {
          for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => resolve());
        });
        close();
      },
    );
}

/** Agents are simulated on this machine only. */
export function readBase(text: string): string {
  let base: string;
  try {
    base = parseAddress(text);
  } catch (error) {
    throw new CommandError(`--base: ${(error as Error).message}`);
  }
  if (!base.startsWith('127.')) throw new CommandError(`--base: ${base} is not in the loopback network 127.0.0.0/8`);
  return base;
}

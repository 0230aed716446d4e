import { fork, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import type { Command } from 'commander';
import { Fleet } from '../sim/ostermere/fleet';
import { programFolder } from '../store/base/database';

/** What the parent is told when the network is as it was asked to be. */
interface Ready {
  agents: number;
  services: number;
}

/** The sample estate in a process of its own, so that what asks and what answers each have a processor. */
export class FleetProcess {
  readonly #child: ChildProcess;
  size = 0;
  services = 0;

  constructor(base: string, port: number, httpsPort: number, certificates: string) {
    this.#child = fork(
      path.join(programFolder(), 'bin/bolide'),
      [
        'fleet',
        '--base',
        base,
        '--port',
        String(port),
        '--https-port',
        String(httpsPort),
        '--certificates',
        certificates,
      ],
      { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] },
    );
  }

  /** Lets the network be as it is at a step of the story. */
  moveTo(step: number): Promise<void> {
    return new Promise((resolve, reject) => {
      const ended = (code: number | null) => reject(new Error(`the simulated agents ended (${code ?? 'killed'})`));
      this.#child.once('exit', ended);
      this.#child.once('message', ({ agents, services, error }: Ready & { error?: string }) => {
        this.#child.off('exit', ended);
        if (error !== undefined) return reject(new Error(error));
        this.size = agents;
        this.services = services;
        resolve();
      });
      this.#child.send({ step });
    });
  }

  close(): void {
    this.#child.kill('SIGTERM');
  }
}

/** What runs in the process: it ends with the one that started it. */
export function addFleetCommand(program: Command): void {
  program
    .command('fleet', { hidden: true })
    .requiredOption('--base <address>')
    .requiredOption('--port <n>')
    .requiredOption('--https-port <n>')
    .requiredOption('--certificates <file>')
    .action(
      async ({
        base,
        port,
        httpsPort,
        certificates,
      }: Record<'base' | 'port' | 'httpsPort' | 'certificates', string>) => {
        const fleet = new Fleet(base, Number(port), Number(httpsPort), certificates);
        const move = async (step: number): Promise<Ready & { error?: string }> => {
          try {
            await fleet.moveTo(step);
            await fleet.makeReady();
            return { agents: fleet.size, services: fleet.services };
          } catch (error) {
            return { agents: 0, services: 0, error: (error as Error).message };
          }
        };
        process.on('message', ({ step }: { step: number }) => void move(step).then((ready) => process.send?.(ready)));
        // Ctrl+C reaches this process too: the parent says when it is over
        process.on('SIGINT', () => undefined);
        await new Promise<void>((resolve) => {
          process.once('SIGTERM', () => resolve());
          process.once('disconnect', () => resolve());
        });
        fleet.close();
        process.exit(0);
      },
    );
}

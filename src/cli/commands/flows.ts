import { readFileSync } from 'node:fs';
import type { Command } from 'commander';
import { FlowReceiver } from '../../collect/flows/flowReceiver';
import { Prefixes } from '../../core/values/prefixes';
import { openStore, type Store } from '../../store/base/database';
import { latestSealed } from '../../store/base/sealedSurveys';
import { isDiskFull, isLocked } from '../../store/base/storeFault';
import { writeFlowState } from '../../store/flowState';
import { deviceAddresses, listenersAt } from '../../store/listeners';
import { mergeTalk } from '../../store/talk/live';
import { exitCodes } from '../exit';
import { answerPings } from '../serving/pings';

const tellMs = 2000;
const lockMs = 30_000;

/** Hears exporters of flows, which `bolide serve --flows` starts beside the application. */
export function addFlowsCommand(program: Command): void {
  program
    .command('flows', { hidden: true })
    .requiredOption('--data <dir>')
    .requiredOption('--listen <address>')
    .requiredOption('--port <n>')
    .requiredOption('--every <seconds>')
    .option('--from <prefixes>')
    .action(async (options: { data: string; listen: string; port: string; every: string; from?: string }) => {
      answerPings();
      try {
        await hear(options);
      } catch (error) {
        console.error('hearing exporters of flows:', error);
        process.exit(exitCodes.failed);
      }
    });
}

async function hear(options: {
  data: string;
  listen: string;
  port: string;
  every: string;
  from?: string;
}): Promise<never> {
  const store = openStore(options.data, { waitMs: lockMs });
  const receiver = new FlowReceiver();
  const said = new Prefixes((options.from ?? '').split(',').filter(Boolean));
  let known = -1;
  const look = () => {
    const newest = latestSealed(store.db);
    if (newest === known) return;
    known = newest;
    receiver.isListener = listenersAt(store.db, newest);
    const devices = deviceAddresses(store.db, newest);
    receiver.isLetIn = (address) => devices.has(address) || said.longestWith(address) !== null;
  };
  look();
  const port = await receiver.listen(options.listen, Number(options.port));
  const write = () => {
    for (const { exporter, talks } of receiver.taken()) mergeTalk(store.db, exporter, talks, new Date());
  };
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.on(signal, () => {
      receiver.close();
      attempt(write);
      store.close();
      process.exit(0);
    });
  let written = Date.now();
  for (;;) {
    look();
    if (Date.now() - written >= Number(options.every) * 1000) {
      attempt(write);
      written = Date.now();
    }
    tell(store, receiver, options.listen, port);
    await new Promise((resolve) => setTimeout(resolve, tellMs));
  }
}

/** Neither a full disk nor another writer ends it; what was counted meanwhile is lost, and the next minute may have its way. */
function attempt(work: () => void): void {
  try {
    work();
  } catch (error) {
    if (!isDiskFull(error) && !isLocked(error)) throw error;
    console.error('flows of a minute were not written:', (error as Error).message);
  }
}

function tell({ folder }: Store, receiver: FlowReceiver, address: string, port: number): void {
  attempt(() =>
    writeFlowState(folder, {
      listens: `${address.includes(':') ? `[${address}]` : address}:${port}`,
      at: Date.now(),
      ...receiver.state(),
      dropped: droppedBySystem(port),
    }),
  );
}

/** The last column of what the system tells of its sockets. */
function droppedBySystem(port: number): number | null {
  const wanted = `:${port.toString(16).toUpperCase().padStart(4, '0')}`;
  try {
    const lines = ['/proc/net/udp', '/proc/net/udp6'].flatMap((file) => readFileSync(file, 'utf8').split('\n'));
    return lines
      .map((line) => line.trim().split(/\s+/))
      .filter(([, local = '']) => local.endsWith(wanted))
      .reduce((sum, columns) => sum + Number(columns.at(-1) ?? 0), 0);
  } catch {
    return null;
  }
}

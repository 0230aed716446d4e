import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import type { Command } from 'commander';
import { programBeside } from '../../collect/beside/programBeside';
import type { FlowWork, FromFlowThread, ToFlowThread } from '../../collect/flows/flowMessages';
import { FlowSocket } from '../../collect/flows/flowSocket';
import { isDiskFull } from '../../store/base/storeFault';
import { writeFlowState } from '../../store/flowState';
import { exitCodes } from '../exit';
import { answerPings } from '../serving/pings';

const tellMs = 2000;
const silentMs = 120_000;

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

/** Takes datagrams here; a thread of its own counts and writes, which takes it seconds at a time. */
async function hear(options: {
  data: string;
  listen: string;
  port: string;
  every: string;
  from?: string;
}): Promise<never> {
  const workerData: FlowWork = {
    folder: options.data,
    from: (options.from ?? '').split(',').filter(Boolean),
    everyMs: Number(options.every) * 1000,
  };
  const thread = new Worker(programBeside('flows') ?? '', { workerData });
  const send = (message: ToFlowThread) => thread.postMessage(message);
  const socket = new FlowSocket(send);
  let heardAt = Date.now();
  const { address, port } = await begin(thread, socket, options);
  thread.on('message', (message: FromFlowThread) => {
    heardAt = Date.now();
    if ('taken' in message) socket.taken(message.taken);
    if ('state' in message)
      tell(options.data, {
        listens: `${address.includes(':') ? `[${address}]` : address}:${port}`,
        at: Date.now(),
        ...message.state,
        unwritten: message.unwritten,
        givenUp: message.givenUp,
        dropped: (droppedBySystem(port) ?? 0) + socket.dropped,
      });
    if ('ended' in message) process.exit(0);
  });
  thread.on('error', (error) => {
    console.error('counting flows:', error);
    process.exit(exitCodes.failed);
  });
  // a thread that ends by itself counts no more
  thread.on('exit', () => process.exit(exitCodes.failed));
  for (const signal of ['SIGTERM', 'SIGINT'] as const)
    process.on(signal, () => {
      socket.close();
      send('end');
    });
  for (;;) {
    send('look');
    await new Promise((resolve) => setTimeout(resolve, tellMs));
    // half of it hanging would look whole from outside
    if (Date.now() - heardAt > silentMs) throw new Error('whoever counts them does not answer');
  }
}

async function begin(
  thread: Worker,
  socket: FlowSocket,
  options: { listen: string; port: string },
): Promise<{ address: string; port: number }> {
  await once(thread, 'message');
  return { address: options.listen, port: await socket.listen(options.listen, Number(options.port)) };
}

/** A full disk does not end it: that nothing is told for long is seen at the other end. */
function tell(folder: string, state: Parameters<typeof writeFlowState>[1]): void {
  try {
    writeFlowState(folder, state);
  } catch (error) {
    if (!isDiskFull(error)) throw error;
    console.error('how flows are heard was not told:', (error as Error).message);
  }
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

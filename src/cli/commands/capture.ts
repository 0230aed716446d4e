import { spawn } from 'node:child_process';
import { createReadStream, existsSync } from 'node:fs';
import { hostname } from 'node:os';
import path from 'node:path';
import type { Command } from 'commander';
import { CaptureAgent, talkWords } from '../../collect/captures/captureAgent';
import { ServerLink } from '../../collect/collector/serverLink';
import { CaptureError } from '../../core/flow/captureReader';
import { talkFilter } from '../../core/flow/talkFilter';
import { FilterError } from '../../core/filter/filterNode';
import { CommandError, exitCodes } from '../exit';
import { openSpool, serverAddress } from './toServer';

interface CaptureOptions {
  pcap?: string;
  interface?: string;
  filter: string;
  every: string;
  show?: boolean;
  unknown?: boolean;
  server: string;
  token?: string;
  spool: string;
  point?: string;
}

/** Heads are enough: nobody's words are read. */
const headOctets = 200;
/** How long what was heard may take to arrive once there is nothing more to hear. */
const lastTriesMs = 8000;
const againMs = 1000;

export function addCaptureCommand(program: Command): void {
  program
    .command('capture')
    .description(
      'hear at a host or a mirror port who talks to whom, and tell a server; only counts are sent, never contents',
    )
    .option('--pcap <file>', 'a capture, pcap or pcapng; - for standard input')
    .option('--interface <name>', 'an interface of this host, heard by tcpdump')
    .option('--filter <filter>', 'only this: address:10.72.0.0/16 port=443 protocol=tcp client=… server=…', '')
    .option('--every <seconds>', 'a batch each so many seconds', '60')
    .option('--show', 'print what is sent')
    .option('--unknown', 'send what no known listener explains too')
    .requiredOption('--server <url>', 'where the server is: https://…')
    .option(
      '--token <token>',
      'an operator’s token for the area “agents”; else BOLIDE_TOKEN in the environment, where others cannot read it',
    )
    .option('--spool <dir>', 'folder for what was heard and has not arrived yet', 'capture-spool')
    .option(
      '--point <name>',
      'where it is captured, as the server calls it; the name of this host where it is not said',
    )
    .action(captureCommand);
}

async function captureCommand(options: CaptureOptions): Promise<void> {
  const { pcap, interface: from, token = process.env.BOLIDE_TOKEN ?? '' } = options;
  if ((pcap === undefined) === (from === undefined))
    throw new CommandError('give one of --pcap and --interface: what is to be heard');
  if (from !== undefined && !/^[\w.:@-]{1,60}$/.test(from))
    throw new CommandError(`--interface: “${from}” is no interface`);
  if (pcap !== undefined && pcap !== '-' && !existsSync(pcap))
    throw new CommandError(`--pcap: there is no file “${pcap}”`);
  const everySeconds = Number(options.every);
  if (!Number.isInteger(everySeconds) || everySeconds < 1 || everySeconds > 86_400)
    throw new CommandError(`--every: “${options.every}” is no whole number of seconds from 1 to 86400`);
  if (token === '') throw new CommandError('--token: give a token, or set BOLIDE_TOKEN');
  const stop = new AbortController();
  for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => stop.abort());
  const tell = (words: string) => console.error(`${new Date().toISOString()} ${words}`);
  const unstopped = new AbortController();
  const spool = openSpool(options.spool);
  const agent = new CaptureAgent({
    link: new ServerLink(serverAddress(options.server), token, unstopped.signal),
    spool,
    point: options.point?.trim() || hostname(),
    everySeconds,
    wants: wanted(options.filter),
    sendsUnknown: options.unknown === true,
    show: (talk) => {
      if (options.show) process.stdout.write(`${talkWords(talk)}\n`);
    },
    tell,
    stopped: stop.signal,
  });
  await agent.prepare();
  const delivering = agent.deliver();
  try {
    await (pcap === undefined ? hearInterface(agent, from ?? '', stop.signal) : hearFile(agent, pcap));
  } catch (error) {
    if (!(error instanceof CaptureError)) throw error;
    throw new CommandError(`${pcap === undefined ? 'tcpdump' : `--pcap: “${pcap}”`}: ${error.message}`);
  } finally {
    stop.abort();
    await delivering;
    // what was heard last is to arrive too
    const giveUp = setTimeout(() => unstopped.abort(), lastTriesMs);
    for (let sent = await agent.deliverOne(); sent !== 'nothing' && !unstopped.signal.aborted;) {
      if (sent === 'failed') await new Promise((resolve) => setTimeout(resolve, againMs));
      sent = await agent.deliverOne();
    }
    clearTimeout(giveUp);
  }
  const left = spool.size().files;
  if (left > 0)
    throw new CommandError(
      `${left} ${left === 1 ? 'batch waits' : 'batches wait'} in ${path.resolve(options.spool)}: run it again once the server answers, and they are sent first`,
      exitCodes.failed,
    );
}

function wanted(filter: string): ReturnType<typeof talkFilter> {
  try {
    return talkFilter(filter);
  } catch (error) {
    if (!(error instanceof FilterError)) throw error;
    throw new CommandError(`--filter: ${error.message}, at character ${error.at + 1}; expected ${error.expected}`);
  }
}

const hearFile = (agent: CaptureAgent, file: string): Promise<void> =>
  agent.hear((file === '-' ? process.stdin : createReadStream(file)) as AsyncIterable<Buffer>);

/** Packets of an interface, from tcpdump through a pipe, until it ends or this is stopped. */
async function hearInterface(agent: CaptureAgent, name: string, stopped: AbortSignal): Promise<void> {
  const child = spawn('tcpdump', ['-i', name, '-n', '-U', '-s', String(headOctets), '-w', '-'], {
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  child.stderr.on('data', (piece: Buffer) => (said = `${said}${piece.toString()}`.slice(-2000)));
  const ended = new Promise<{ code: number | null; error?: NodeJS.ErrnoException }>((resolve) => {
    child.once('error', (error) => resolve({ code: null, error }));
    child.once('close', (code) => resolve({ code }));
  });
  const end = () => child.kill('SIGTERM');
  stopped.addEventListener('abort', end, { once: true });
  let fault: unknown = null;
  try {
    await agent.hear(child.stdout as AsyncIterable<Buffer>);
  } catch (error) {
    fault = error;
    end();
  }
  const { code, error } = await ended;
  if (stopped.aborted) return;
  if (error)
    throw new CommandError(
      error.code === 'ENOENT'
        ? '--interface: tcpdump is not installed here: install it, or hear a file by --pcap'
        : `tcpdump could not be started: ${error.message}`,
      exitCodes.failed,
    );
  const [why] = said
    .trim()
    .split('\n')
    .filter((line) => !/listening on|packets (captured|received|dropped)/.test(line));
  if (code !== 0 || fault !== null)
    throw new CommandError(
      `tcpdump ended with ${code}${why ? `: ${why.replace(/^tcpdump: /, '')}` : ''}`,
      exitCodes.failed,
    );
  throw new CommandError('tcpdump ended', exitCodes.failed);
}

import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { bolide, freeUdpPort, home, temporaryFolder } from '../e2e/support/program';

/**
 * A full survey, sealed and concluded, against Debian's snmpbulkwalk over the same agents and the same subtrees, 16 at a time, its output
 * thrown away. The two take turns, and each survey is held against the walks right before and after it, since a shared machine's speed moves within minutes;
 * medians of `runs`.
 */
const walker = '/usr/bin/snmpbulkwalk';
const subtrees = ['1.3.6.1.2.1', '1.0.8802.1.1.2.1', '1.2.840.10006.300.43'];
const atOnce = 16;
const median = (values: number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? Number.NaN;

export async function benchAgainstWalker(agents: number, runs = 7): Promise<Record<string, unknown>> {
  if (!existsSync(walker)) return { skipped: 'snmpbulkwalk is not installed (Debian package snmp)' };
  const port = await freeUdpPort();
  const base = `127.${200 + Math.floor(Math.random() * 40)}`;
  const fleet = spawn(process.execPath, [path.join(home, '.tmp/denseAgents.mjs'), String(agents), base, String(port)], {
    stdio: ['pipe', 'pipe', 'inherit'],
  });
  await new Promise<void>((resolve) => fleet.stdout.once('data', () => resolve()));
  const addresses = Array.from({ length: agents }, (_, at) => `${base}.${(at + 1) >> 8}.${(at + 1) & 255}`);
  const ours: number[] = [];
  const theirs: number[] = [];
  let phases: unknown;
  try {
    theirs.push(await walkAll(addresses, port));
    for (let run = 0; run < runs; run++) {
      const { out, err } = await bolide([
        'survey',
        '--data',
        path.join(temporaryFolder(), 'data'),
        '--range',
        `${addresses[0]}-${addresses.at(-1) ?? ''}`,
        '--community',
        'bench',
        '--port',
        String(port),
        '--json',
      ]);
      const summary = JSON.parse(out || '{}') as {
        seconds: number;
        phases: unknown;
        devices: { found: number };
        failures: unknown[];
      };
      // x.x.1.0 is an agent too: the range holds every one
      if (summary.devices?.found !== agents || summary.failures.length > 0)
        throw new Error(
          `surveyed ${summary.devices?.found} of ${agents}: ${err} ${JSON.stringify(summary.failures.slice(0, 3))}`,
        );
      ours.push(summary.seconds);
      phases = summary.phases;
      theirs.push(await walkAll(addresses, port));
    }
  } finally {
    fleet.kill();
  }
  const rounded = (value: number, digits: number) => Math.round(value * 10 ** digits) / 10 ** digits;
  const ratios = ours.map((seconds, run) =>
    rounded(seconds / (((theirs[run] ?? Number.NaN) + (theirs[run + 1] ?? Number.NaN)) / 2), 2),
  );
  return {
    agents,
    bolideSeconds: median(ours),
    walkerSeconds: rounded(median(theirs), 3),
    ratio: median(ratios),
    ratios,
    phases,
  };
}

async function walkAll(addresses: string[], port: number): Promise<number> {
  const work = addresses.flatMap((address) => subtrees.map((subtree) => [address, subtree] as const));
  const started = performance.now();
  let next = 0;
  const lane = async () => {
    while (next < work.length) {
      const [address = '', subtree = ''] = work[next++] ?? [];
      await new Promise<void>((resolve, reject) => {
        const child = spawn(
          walker,
          ['-v2c', '-c', 'bench', '-Cr50', '-On', '-Oe', '-Ob', '-OU', `${address}:${port}`, subtree],
          { stdio: 'ignore', env: { ...process.env, MIBS: '' } },
        );
        child.on('error', reject);
        child.on('close', () => resolve());
      });
    }
  };
  await Promise.all(Array.from({ length: atOnce }, lane));
  return (performance.now() - started) / 1000;
}

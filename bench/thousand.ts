import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { startApplication } from '../e2e/support/application';
import { freeUdpPort, home, stop, temporaryFolder, processOf } from '../e2e/support/program';
import { scopeDefaults } from '../src/core/estate/scope';
import { openStore } from '../src/store/base/database';
import { readJob } from '../src/store/jobs';
import { addToken } from '../src/store/tokens';
import { saveCredential } from '../src/store/credentials';

const percentile = (values: number[], share: number) =>
  Math.round(([...values].sort((x, y) => x - y)[Math.floor(values.length * share)] ?? Number.NaN) * 10) / 10;
const hundredths = 100;

/** What the engine takes for 1,000 dense agents, and whether the application answers meanwhile: its memory, its processor, and how late a small answer of the web process is. */
export async function benchThousand(agents = 1000): Promise<Record<string, unknown>> {
  const port = await freeUdpPort();
  const base = `127.${200 + Math.floor(Math.random() * 40)}`;
  const fleet = spawn(process.execPath, [path.join(home, '.tmp/denseAgents.mjs'), String(agents), base, String(port)], {
    stdio: ['pipe', 'pipe', 'inherit'],
  });
  await new Promise<void>((resolve) => fleet.stdout.once('data', () => resolve()));
  const data = temporaryFolder();
  const store = openStore(data);
  saveCredential(store, {
    name: 'dense',
    kind: 'snmp2c',
    community: 'bench',
    approved: { prefixes: ['127.0.0.0/8'], ports: [port] },
  });
  const token = addToken(store.db, { name: 'bench', role: 'operator' });
  const app = await startApplication(data);
  const call = async <Answer>(where: string, body: object) =>
    (await (
      await fetch(`${app.address}/api/v1/${where}`, {
        method: 'POST',
        headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).json()) as Answer;
  try {
    const { id } = await call<{ id: number }>('scopes', {
      ...scopeDefaults,
      name: 'dense',
      ranges: [`${base}.0.1-${base}.${(agents >> 8) & 255}.${agents & 255}`],
      credentials: ['dense'],
      port,
    });
    const { jobId } = await call<{ jobId: number }>('surveys', { scopeId: id });
    const phaseOf = store.raw.prepare<[number], { phase: string }>('select phase from survey where id = ?');
    const readPhase = (surveyId: number | null) =>
      surveyId === null ? 'start' : (phaseOf.get(surveyId)?.phase ?? 'start');
    const started = performance.now();
    let most = 0;
    let ticks = 0;
    const byPhase: Record<string, number> = {};
    const late: number[] = [];
    for (;;) {
      const job = readJob(store.db, jobId);
      if (!job || (job.state !== 'queued' && job.state !== 'running')) break;
      if (job.worker !== null) {
        const status = readFileSync(`/proc/${processOf(job.worker)}/status`, 'utf8');
        most = Math.max(most, Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
        const phase = readPhase(job.surveyId);
        byPhase[phase] = Math.max(
          byPhase[phase] ?? 0,
          Math.round(Number(/VmRSS:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024),
        );
        const [user = 0, system = 0] =
          readFileSync(`/proc/${processOf(job.worker)}/stat`, 'utf8')
            .split(') ')[1]
            ?.split(' ')
            .slice(11, 13)
            .map(Number) ?? [];
        ticks = user + system;
      }
      const asked = performance.now();
      await (await fetch(`${app.address}/api/v1/health`)).arrayBuffer();
      late.push(performance.now() - asked);
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    const seconds = (performance.now() - started) / 1000;
    const job = readJob(store.db, jobId);
    return {
      agents,
      state: job?.state,
      error: job?.error ?? undefined,
      seconds: Math.round(seconds * 10) / 10,
      engineMB: Math.round(most),
      engineMBByPhase: byPhase,
      engineProcessor: Math.round((ticks / hundredths / seconds) * 100) / 100,
      webAnswerMs: { median: percentile(late, 0.5), p99: percentile(late, 0.99) },
    };
  } finally {
    store.close();
    await stop(app.process);
    fleet.kill();
  }
}

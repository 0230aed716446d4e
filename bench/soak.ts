import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync, statSync } from 'node:fs';
import { constants, setPriority } from 'node:os';
import path from 'node:path';
import { startApplication } from '../e2e/support/application';
import { freeUdpPort, home, stop, temporaryFolder } from '../e2e/support/program';
import { scopeDefaults } from '../src/core/estate/scope';
import { openStore } from '../src/store/base/database';
import { addToken } from '../src/store/tokens';
import { saveCredential } from '../src/store/credentials';

const agents = 200;
const browsers = 10;
const minuteMs = 60_000;
const sampleMs = 5000;

/** What browsers ask again and again while people look. */
const questions = [
  'surveys',
  'today',
  'devices?page=1&size=100',
  'ports?page=2&size=100',
  'endpoints?page=1&size=50',
  'changes?page=1&size=50',
  'find?text=port',
  'devices/1',
  'map',
];

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const median = (values: readonly number[]) => [...values].sort((x, y) => x - y)[Math.floor(values.length / 2)] ?? 0;
const share = (values: readonly number[], part: number) =>
  Math.round([...values].sort((x, y) => x - y)[Math.floor(values.length * part)] ?? 0);
const megabytes = (octets: number) => Math.round((octets / 1024 / 1024) * 10) / 10;

/** Devices and collectors are other machines: where they share this one, they must not take from the server what it would have for itself. */
const standsElsewhere = ({ pid }: ChildProcess) => setPriority(pid ?? 0, constants.priority.PRIORITY_BELOW_NORMAL);

/** Which child of `serve` is which. */
function childCalled(parent: ChildProcess, command: string): number {
  const pids = readFileSync(`/proc/${parent.pid}/task/${parent.pid}/children`, 'utf8').trim().split(' ');
  const found = pids.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0')[2] === command);
  return Number(found ?? 0);
}
const residentOf = (pid: number): number => {
  try {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
};

/**
 * A long night: two hundred devices in two scopes, one of them asked by a collector, surveyed every minute, ten browsers' worth of questions, and each process killed
 * once in the first third. Tells whether memory stays where it was, what was lost or doubled, how late answers were, and how the file grew.
 */
export async function benchSoak(minutes: number): Promise<Record<string, unknown>> {
  const port = await freeUdpPort();
  const base = `127.${200 + Math.floor(Math.random() * 40)}`;
  const fleet = spawn(process.execPath, [path.join(home, '.tmp/denseAgents.mjs'), String(agents), base, String(port)], {
    stdio: ['pipe', 'pipe', 'inherit'],
  });
  await new Promise<void>((resolve) => fleet.stdout.once('data', () => resolve()));
  standsElsewhere(fleet);
  const data = temporaryFolder();
  const store = openStore(data);
  const approved = { prefixes: ['127.0.0.0/8'], ports: [port] };
  saveCredential(store, { name: 'dense', kind: 'snmp2c', community: 'bench', approved });
  const token = addToken(store.db, { name: 'bench', role: 'administrator' });
  const collectorToken = addToken(store.db, { name: 'far', role: 'collector' });
  const app = await startApplication(data);
  const startCollector = () => {
    const child = spawn(
      process.execPath,
      [path.join(home, 'bin/bolide'), 'collector', '--server', app.address, '--spool', path.join(data, 'spool')],
      { stdio: 'ignore', env: { ...process.env, BOLIDE_TOKEN: collectorToken } },
    );
    standsElsewhere(child);
    return child;
  };
  let collector = startCollector();
  const headers = { authorization: `Bearer ${token}`, 'content-type': 'application/json' };
  const call = async <Answer>(where: string, body?: object): Promise<Answer> => {
    const init = body ? { method: 'POST', body: JSON.stringify(body) } : {};
    const response = await fetch(`${app.address}/api/v1/${where}`, { ...init, headers });
    if (!response.ok) throw new Error(`${where}: ${response.status}`);
    return (await response.json()) as Answer;
  };
  const half = agents / 2;
  const scopes = [
    { name: 'near', ranges: [`${base}.0.1-${half}`], collectors: [] },
    { name: 'far', ranges: [`${base}.0.${half + 1}-${agents}`], collectors: ['far'] },
  ];
  const ids: number[] = [];
  for (const scope of scopes)
    ids.push((await call<{ id: number }>('scopes', { ...scopeDefaults, ...scope, credentials: ['dense'], port })).id);

  const until = Date.now() + minutes * minuteMs;
  const late: number[] = [];
  const byQuestion: Record<string, number[]> = {};
  const lastThird: number[] = [];
  const faults: Record<string, number> = {};
  const memory: Record<string, number>[] = [];
  const files: number[] = [];
  const fault = (words: string) => (faults[words] = (faults[words] ?? 0) + 1);

  const surveying = (async () => {
    while (Date.now() < until) {
      const begun = Date.now();
      for (const scopeId of ids) await call('surveys', { scopeId }).catch(() => fault('survey not taken'));
      await pause(Math.max(0, Math.min(begun + minuteMs, until) - Date.now()));
    }
  })();
  // one that does nothing, asked as often: what of it is the machine's own
  const idle = spawn(
    process.execPath,
    [
      '-e',
      "require('http').createServer((q, r) => r.end('{}')).listen(0, '127.0.0.1', function () { console.log(this.address().port) })",
    ],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  const idlePort = await new Promise<string>((resolve) =>
    idle.stdout.once('data', (text) => resolve(String(text).trim())),
  );
  const lateOfIdle: number[] = [];
  const askIdle = async () => {
    const begun = performance.now();
    await (await fetch(`http://127.0.0.1:${idlePort}/`)).text();
    if (Date.now() > until - (minutes * minuteMs) / 3) lateOfIdle.push(performance.now() - begun);
  };
  const asking = Array.from({ length: browsers }, async (_, at) => {
    for (let turn = at; Date.now() < until; turn++) {
      const question = questions[turn % questions.length] ?? '';
      const begun = performance.now();
      await call(question).then(
        () => {
          const took = performance.now() - begun;
          late.push(took);
          // by then every process has been killed and is back
          if (Date.now() <= until - (minutes * minuteMs) / 3) return;
          lastThird.push(took);
          (byQuestion[question] ??= []).push(took);
        },
        (error: Error) => fault(/: \d{3}$/.test(error.message) ? error.message : 'no connection'),
      );
      await pause(250 + Math.random() * 500);
      await askIdle();
      await pause(250 + Math.random() * 500);
    }
  });
  const watching = (async () => {
    while (Date.now() < until) {
      memory.push({
        web: residentOf(childCalled(app.process, 'web')),
        engine: residentOf(childCalled(app.process, 'engine')),
        collector: residentOf(collector.pid ?? 0),
      });
      files.push(statSync(path.join(data, 'bolide.sqlite')).size);
      await pause(sampleMs);
    }
  })();
  const killing = (async () => {
    const third = (minutes * minuteMs) / 3;
    for (const kill of [
      () => process.kill(childCalled(app.process, 'engine'), 'SIGKILL'),
      () => process.kill(childCalled(app.process, 'web'), 'SIGKILL'),
      () => {
        collector.kill('SIGKILL');
        collector = startCollector();
      },
    ]) {
      await pause((third / 4) * (0.5 + Math.random() * 0.5));
      kill();
    }
  })();
  await Promise.all([surveying, ...asking, watching, killing]);

  // what was begun is awaited
  for (let attempt = 0; attempt < 240; attempt++) {
    const { active } = await call<{ active: unknown }>('surveys').catch(() => ({ active: true }));
    if (!active) break;
    await pause(500);
  }
  const surveys = store.raw
    .prepare<[], { state: string; asked: number; visits: number; devices: number }>(
      `select survey.state as state, asked, count(visit.address) as visits, count(distinct visit.device_id) as devices
        from survey left join visit on visit.survey_id = survey.id and visit.outcome = 'answered' group by survey.id`,
    )
    .all();
  const doubled = store.raw.prepare('select count(*) - count(distinct id) from device').pluck().get() as number;
  const { devices } = store.raw.prepare('select count(*) as devices from device').get() as { devices: number };
  const whole = surveys.filter((one) => one.state === 'sealed' && one.visits === half && one.devices === half).length;
  collector.kill('SIGKILL');
  await stop(app.process);
  idle.kill('SIGKILL');
  fleet.stdin.end();
  const thirds = (name: string) => {
    const values = memory.map((one) => one[name] ?? 0);
    const part = Math.floor(values.length / 3);
    const [middle, last] = [median(values.slice(part, 2 * part)), median(values.slice(2 * part))];
    return { middleMB: Math.round(middle), lastMB: Math.round(last), ratio: Math.round((last / middle) * 1000) / 1000 };
  };
  const result = {
    minutes,
    surveys: surveys.length,
    wholeSurveys: whole,
    otherwise: surveys.filter((one) => one.state !== 'sealed' || one.visits !== half).slice(0, 5),
    devices,
    doubled,
    requests: late.length,
    faults,
    lateMs: { p50: share(late, 0.5), p95: share(late, 0.95), p99: share(late, 0.99), most: share(late, 0.9999) },
    lateInLastThirdMs: { p50: share(lastThird, 0.5), p95: share(lastThird, 0.95), p99: share(lastThird, 0.99) },
    idleInLastThirdMs: { p50: share(lateOfIdle, 0.5), p95: share(lateOfIdle, 0.95), p99: share(lateOfIdle, 0.99) },
    lateByQuestionMs: Object.fromEntries(
      Object.entries(byQuestion).map(([name, values]) => [name, { p50: share(values, 0.5), p99: share(values, 0.99) }]),
    ),
    memory: { web: thirds('web'), engine: thirds('engine'), collector: thirds('collector') },
    fileMB: { first: megabytes(files[0] ?? 0), last: megabytes(files.at(-1) ?? 0) },
    fileKBaSurvey: Math.round(
      ((files.at(-1) ?? 0) - (files[Math.floor(files.length / 3)] ?? 0)) / 1024 / Math.max(1, (surveys.length * 2) / 3),
    ),
    integrity: store.raw.pragma('integrity_check(1)', { simple: true }),
  };
  store.close();
  return result;
}

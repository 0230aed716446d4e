import { actWords, assignmentOf, plannedSets, type PortAct, type PortSettings } from '../../core/acting/portAct';
import { readScope } from '../../core/estate/scope';
import { translate } from '../../core/values/translation';
import type { Store } from '../../store/base/database';
import { giveUpJob, takeJob, updateJob, type Job } from '../../store/jobs';
import { recordAct } from '../../store/audit';
import {
  brokenPortActs,
  endPortAct,
  noteSent,
  readPortAct,
  type KeptPortAct,
  type PortActJob,
  type PortLookJob,
} from '../../store/portActs';
import { openCredentials } from '../../store/credentials';
import { wayIn } from '../../store/wayIn';
import { actOnPort, readBack, type PortActOutcome } from '../acting/actOnPort';
import { openForWriting, readPort, type Hindrance, type OpenedAgent } from '../acting/portAgent';
import { UdpTransport } from '../snmp/udpTransport';
import { SourceError } from '../source';

/** What a look at a port found: how it is now, or why nobody can act on it. */
export type PortLook = { settings: PortSettings; credential: string } | Hindrance;

const pollMs = 100;
/** What was asked for longer ago than this is not done any more: whoever asked has gone on. */
const stillWantedMs = 60_000;
const patience = 3;
const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

/** Looks at ports and acts on them as people ask for it, beside surveys. What a dead process left in the middle is ended first: power it took away is given back. */
export async function portLoop(store: Store, stopping: () => boolean): Promise<void> {
  for (const { jobId, actId } of brokenPortActs(store.db)) await endBroken(store, jobId, actId);
  const going = new Set<Promise<void>>();
  const begin = (work: Promise<void>) => {
    going.add(work);
    void work.finally(() => going.delete(work));
  };
  while (!stopping()) {
    const look = takeJob(store.db, process.pid, 'portLook');
    if (look) begin(performing(store, look, () => performLook(store, look)));
    const act = takeJob(store.db, process.pid, 'portAct');
    if (act) begin(performing(store, act, () => performAct(store, act)));
    if (!look && !act) await pause(pollMs);
  }
  await Promise.all(going);
}

async function performing(store: Store, job: Job, work: () => Promise<unknown>): Promise<void> {
  try {
    const result = await work();
    updateJob(store.db, job.id, { state: 'done', result, endedAt: new Date().toISOString() });
  } catch (error) {
    console.error(`${job.kind} ${job.id} failed:`, error);
    const { actId } = job.body as Partial<PortActJob>;
    if (actId !== undefined)
      endPortAct(store.db, actId, {
        state: 'unsure',
        reason: `something failed inside: ${(error as Error).message}`,
        remedy: 'Look at the port again.',
      });
    giveUpJob(store.db, job, (error as Error).message);
  }
}

async function performLook(store: Store, job: Job): Promise<PortLook> {
  const { deviceId, port } = job.body as PortLookJob;
  return withAgent(store, deviceId, async ({ agent, credential }) => {
    const settings = await readPort(agent, port);
    return settings
      ? { settings, credential }
      : { reason: `it has no port ${port} any more`, remedy: 'Survey the device again.' };
  });
}

async function performAct(store: Store, job: Job): Promise<{ actId: number }> {
  const { db } = store;
  const { actId } = job.body as PortActJob;
  const kept = readPortAct(db, actId);
  if (!kept) throw new Error('the act is gone');
  const waitedMs = Date.now() - Date.parse(kept.at);
  if (waitedMs > stillWantedMs) {
    end(store, kept, {
      reason: `it waited ${Math.round(waitedMs / 1000)} s for the engine, which is too long to be still meant`,
      remedy: 'Look at the port, and do it again.',
    });
    return { actId };
  }
  const outcome = await withAgent<PortActOutcome>(store, kept.deviceId, (opened) =>
    actOnPort(opened, {
      port: kept.port,
      act: kept.act,
      seen: kept.seen,
      wait: (seconds) => pause(seconds * 1000),
      sending: (set) => noteSent(db, actId, set, opened.credential),
    }),
  );
  end(store, kept, outcome);
  return { actId };
}

function end(store: Store, kept: KeptPortAct, outcome: PortActOutcome | Hindrance): void {
  const sent = (readPortAct(store.db, kept.id)?.sent.length ?? 0) > 0;
  const told =
    'state' in outcome
      ? outcome
      : {
          state: sent ? ('unsure' as const) : ('unsent' as const),
          after: null,
          ...outcome,
          reason: sent ? outcome.reason : `${outcome.reason}: nothing was sent`,
        };
  endPortAct(store.db, kept.id, told);
  recordAct(
    store.db,
    kept.who,
    told.state === 'done' ? 'acted on a port' : 'tried to act on a port',
    `${kept.device} ${kept.port}: ${actWords(kept.act)}${kept.forced ? ', though it is an uplink' : ''}${told.reason && `; ${told.reason}`}`,
  );
}

/** An act that broke off is looked at; power that was taken away for a while, and whose time is over, is given back. */
async function endBroken(store: Store, jobId: number, actId: number): Promise<void> {
  const { db } = store;
  const kept = readPortAct(db, actId);
  if (kept && (kept.state === 'queued' || kept.state === 'sending')) {
    if (kept.sent.length === 0)
      end(store, kept, { reason: 'the process that was to do it ended', remedy: 'Look at the port, and do it again.' });
    else
      end(
        store,
        kept,
        await withAgent<PortActOutcome>(store, kept.deviceId, async (opened) => {
          if (kept.act.kind === 'powerCycle') await givePowerBack(store, kept, opened);
          return readBack(opened.agent, kept.port, kept.act);
        }),
      );
  }
  updateJob(db, jobId, { state: 'done', result: { actId }, endedAt: new Date().toISOString() });
}

async function givePowerBack(
  store: Store,
  { id, port }: KeptPortAct,
  { agent, credential }: OpenedAgent,
): Promise<void> {
  const now = await readPort(agent, port);
  const planned = now && plannedSets({ kind: 'powerOn' } satisfies PortAct, now);
  if (!planned || 'reason' in planned) return;
  for (const set of planned.sets) {
    noteSent(store.db, id, set, credential);
    await agent.set([assignmentOf(set)]);
  }
}

/** Lets the agent of a device in, with the credentials its scope keeps for acting, does something with it, and ends. */
async function withAgent<Result>(
  store: Store,
  deviceId: number,
  work: (opened: OpenedAgent) => Promise<Result | Hindrance>,
): Promise<Result | Hindrance> {
  const way = wayIn(store.db, deviceId);
  if ('reason' in way) return way;
  const read = readScope(way.scope);
  if ('mistakes' in read)
    return {
      reason: `the scope “${way.scope.name}” has a mistake: ${read.mistakes[0]?.message ?? ''}`,
      remedy: 'Correct the scope.',
    };
  const { translations, port, timeoutMs, retries } = read.scope;
  const transport = new UdpTransport();
  try {
    // one device that somebody waits for: it may take longer than among thousands
    const place = { ...translate(way.address, translations, port), timeoutMs: timeoutMs * patience, retries };
    const opened = await openForWriting(
      transport,
      place,
      openCredentials(store, way.scope.writeCredentials, 'write'),
      way.device,
    );
    return 'reason' in opened ? opened : await work(opened);
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    return { reason: error.message, remedy: 'Look whether the device still answers.' };
  } finally {
    transport.close();
  }
}

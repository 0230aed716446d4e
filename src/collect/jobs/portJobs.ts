import * as yup from 'yup';
import { actWords, assignmentOf, plannedSets, type PortAct, type PortSettings } from '../../core/acting/portAct';
import { readScope } from '../../core/estate/scope';
import { translate } from '../../core/values/translation';
import type { Store } from '../../store/base/database';
import { recordAct } from '../../store/audit';
import {
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
import { jobKind, unlessCancelled } from './jobKind';

/** What a look at a port found: how it is now, or why nobody can act on it. */
export type PortLook = { settings: PortSettings; credential: string } | Hindrance;

/** What was asked for longer ago than this is not done any more: whoever asked has gone on. */
const stillWantedMs = 60_000;
const patience = 3;
const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

const lookPayload = yup
  .object({ deviceId: yup.number().integer().required(), port: yup.string().required() })
  .noUnknown() as yup.Schema<PortLookJob>;
const actPayload = yup.object({ actId: yup.number().integer().required() }).noUnknown() as yup.Schema<PortActJob>;

/** Looks at a port before anything is done to it. */
export const portLookJob = jobKind<PortLookJob>({
  kind: 'portLook',
  lane: 'hands',
  payload: lookPayload,
  attempts: 1,
  run: ({ store, body, signal }) => unlessCancelled(signal, performLook(store, body)),
});

/** Acts on a port as somebody asked for it. What another process left in the middle is ended: power it took away is given back. */
export const portActJob = jobKind<PortActJob>({
  kind: 'portAct',
  lane: 'hands',
  payload: actPayload,
  attempts: 3,
  resumes: () => true,
  run: async ({ store, job, body }) => {
    try {
      await (job.isTakenUp ? endBroken(store, body.actId) : performAct(store, body.actId));
    } catch (error) {
      const reason = `something failed inside: ${(error as Error).message}`;
      endPortAct(store.db, body.actId, { state: 'unsure', reason, remedy: 'Look at the port again.' });
      throw error;
    }
    return { actId: body.actId };
  },
  undone: (store, job, why) => {
    const kept = readPortAct(store.db, (job.body as PortActJob).actId);
    const isOver = kept?.state !== 'queued' && kept?.state !== 'sending';
    if (kept && !isOver) end(store, kept, { reason: why, remedy: 'Look at the port, and do it again.' });
  },
});

function performLook(store: Store, { deviceId, port }: PortLookJob): Promise<PortLook> {
  return withAgent(store, deviceId, async ({ agent, credential }) => {
    const settings = await readPort(agent, port);
    return settings
      ? { settings, credential }
      : { reason: `it has no port ${port} any more`, remedy: 'Survey the device again.' };
  });
}

async function performAct(store: Store, actId: number): Promise<void> {
  const { db } = store;
  const kept = readPortAct(db, actId);
  if (!kept) throw new Error('the act is gone');
  const waitedMs = Date.now() - Date.parse(kept.at);
  if (waitedMs > stillWantedMs) {
    end(store, kept, {
      reason: `it waited ${Math.round(waitedMs / 1000)} s for the engine, which is too long to be still meant`,
      remedy: 'Look at the port, and do it again.',
    });
    return;
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
async function endBroken(store: Store, actId: number): Promise<void> {
  const kept = readPortAct(store.db, actId);
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
}

async function givePowerBack(
  store: Store,
  { id, port, sent }: KeptPortAct,
  { agent, credential }: OpenedAgent,
): Promise<void> {
  const now = await readPort(agent, port);
  const planned = now && plannedSets({ kind: 'powerOn' } satisfies PortAct, withoutDoubt(now, sent[0]?.oid ?? ''));
  if (!planned || 'reason' in planned) return;
  for (const set of planned.sets) {
    noteSent(store.db, id, set, credential);
    await agent.set([assignmentOf(set)]);
  }
}

/** What was taken away there is given back there, whatever may be in doubt by now. */
function withoutDoubt(settings: PortSettings, taken: string): PortSettings {
  if (!settings.power) return settings;
  const { doubt: _doubt, ...power } = settings.power;
  return taken.endsWith(`.${power.group}.${power.port}`) ? { ...settings, power } : settings;
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

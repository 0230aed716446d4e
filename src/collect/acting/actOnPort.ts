import {
  assignmentOf,
  plannedSets,
  readBackMistake,
  sameSettings,
  type PlannedSet,
  type PortAct,
  type PortActState,
  type PortSettings,
} from '../../core/acting/portAct';
import { AgentError } from '../snmp/snmpSession';
import { SourceError } from '../source';
import { readPort, type OpenedAgent } from './portAgent';

export interface PortActOutcome {
  state: PortActState;
  after: PortSettings | null;
  reason: string;
  remedy: string;
}

export interface Acting {
  port: string;
  act: PortAct;
  /** how the port was when the person looked at what would be sent */
  seen: PortSettings;
  /** told before each set goes out */
  sending: (set: PlannedSet) => void;
  wait: (seconds: number) => Promise<void>;
}

/** What an agent says when it would not. */
const refusals: Record<string, [reason: string, remedy: string]> = {
  authorizationError: ['the user may read, but not write', 'Give the user a write view on the device.'],
  noAccess: ['the user may not write this object', 'Widen the write view of the user on the device.'],
  notWritable: ['this object cannot be written on the device', 'Its agent does not let ports be acted on this way.'],
  readOnly: ['this object cannot be written on the device', 'Its agent does not let ports be acted on this way.'],
  noSuchName: [
    'the object is not there, or the user may not write it',
    'Widen the write view of the user on the device.',
  ],
};

/** Does what was planned to a port: looks once more, sends, reads back. Whatever went out is told, and so is what could not be made sure of. */
export async function actOnPort(
  { agent }: OpenedAgent,
  { port, act, seen, sending, wait }: Acting,
): Promise<PortActOutcome> {
  const now = await readPort(agent, port);
  if (!now)
    return {
      state: 'changed',
      after: null,
      reason: `it has no port ${port} any more: nothing was sent`,
      remedy: 'Survey the device again.',
    };
  if (!sameSettings(now, seen))
    return {
      state: 'changed',
      after: now,
      reason: 'the port was changed since you looked: nothing was sent',
      remedy: 'Look again, and decide anew.',
    };
  const planned = plannedSets(act, now);
  if ('reason' in planned)
    return {
      state: 'changed',
      after: now,
      reason: `${planned.reason.replace(/\.$/, '')}: nothing was sent`,
      remedy: '',
    };
  return sendAll(agent, { port, act, sending, wait }, planned.sets);
}

/** Sends, and where an answer is missing lets the port itself tell. */
async function sendAll(
  agent: OpenedAgent['agent'],
  { port, act, sending, wait }: Omit<Acting, 'seen'>,
  sets: PlannedSet[],
): Promise<PortActOutcome> {
  let trouble = '';
  for (const [at, set] of sets.entries()) {
    if (set.afterSeconds > 0) await wait(set.afterSeconds);
    sending(set);
    try {
      await agent.set([assignmentOf(set)]);
    } catch (error) {
      if (error instanceof AgentError) {
        const [reason, remedy] = refusals[error.word] ?? [error.message, 'See what the device says about it.'];
        // what went before may have to be told: power that was taken away and is not given back
        return {
          state: at === 0 ? 'refused' : 'different',
          after: await readQuietly(agent, port),
          reason: at === 0 ? `${reason}: nothing was changed` : `${reason}: ${set.object} could not be set back`,
          remedy,
        };
      }
      if (!(error instanceof SourceError)) throw error;
      trouble = error.message;
    }
  }
  return readBack(agent, port, act, trouble);
}

/** Reads the port back, and says whether it is as wanted. */
export async function readBack(
  agent: OpenedAgent['agent'],
  port: string,
  act: PortAct,
  trouble = '',
): Promise<PortActOutcome> {
  const after = await readQuietly(agent, port);
  if (!after)
    return {
      state: 'unsure',
      after: null,
      reason: `it was sent, and the device does not answer any more${trouble && ` (${trouble})`}: whether it was done is not known`,
      remedy: 'Look at the port again once the device answers.',
    };
  const mistake = readBackMistake(act, after);
  return mistake === null
    ? { state: 'done', after, reason: '', remedy: '' }
    : {
        state: 'different',
        after,
        reason: trouble ? `${mistake}, and the answer to what was sent is missing` : `the agent agreed, but ${mistake}`,
        remedy: 'Look at the device itself.',
      };
}

async function readQuietly(agent: OpenedAgent['agent'], port: string): Promise<PortSettings | null> {
  try {
    return await readPort(agent, port);
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    return null;
  }
}

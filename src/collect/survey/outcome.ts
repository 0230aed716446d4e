import type { WayKind } from '../../core/estate/facts';
import { tooSlowWords } from '../../core/estate/gap';
import { wayNames } from '../../core/estate/ways';
import type { Outcome } from '../../core/estate/visit';
import type { InterfaceFault } from '../interfaces/findInterface';
import type { SourceFault } from '../source';

/** How long a silent address is listened to at most when nobody waits for it any more. */
const longestMs = 2000;

/** Waits a little for answers that nobody waits for any more. */
export const listenOn = (timeoutMs: number): Promise<void> =>
  new Promise((resolve) => setTimeout(resolve, Math.min(timeoutMs, longestMs)));

/** Whoever was silent may only be slow: it is listened to for a while, and an answer that comes then says so. */
export async function heardOut(
  silence: Outcome,
  transport: { lateMs(address: string, port: number): number | null },
  { address, port }: { address: string; port: number },
  timeoutMs: number,
): Promise<Outcome> {
  await listenOn(timeoutMs);
  const lateMs = transport.lateMs(address, port);
  return lateMs === null ? silence : outcomeOf([{ credential: '', fault: 'too slow', message: tooSlowWords(lateMs) }]);
}

/** The fault of the credential that came nearest, in words. Silence means the least: another credential may have been heard. */
export function outcomeOf(faults: { credential: string; fault: SourceFault; message: string }[]): Outcome {
  const rank: SourceFault[] = [
    'cannot decrypt',
    'wrong digest',
    'not in time window',
    'wrong credential',
    'unknown user',
    'mute',
    'misbehaving',
    'over budget',
    'too slow',
    'failed',
    'unreachable',
    'not approved',
    'cancelled',
    'other version',
    'port closed',
    'no answer',
  ];
  const nearest = [...faults].sort((x, y) => rank.indexOf(x.fault) - rank.indexOf(y.fault))[0];
  if (!nearest) return { outcome: 'failed', reason: 'no credential to try', remedy: 'Add a credential to the scope.' };
  const { fault, credential, message } = nearest;
  switch (fault) {
    case 'no answer':
      return {
        outcome: 'silent',
        reason: 'no answer to any credential',
        remedy:
          'Nothing may live here, or SNMP is off, filtered, or wants another community. Check reachability, then access rules on the device.',
      };
    case 'other version':
      return {
        outcome: 'refused',
        reason: 'speaks SNMPv3, but answers to none of the credentials',
        remedy: 'Add its SNMPv3 user as a credential, or correct the community: with another one it keeps silent.',
      };
    case 'port closed':
      return {
        outcome: 'alive',
        reason: 'there is a machine, but nothing listens for SNMP',
        remedy: 'Switch SNMP on, or add a credential for another interface it has.',
      };
    case 'unknown user':
      return {
        outcome: 'refused',
        reason: `speaks SNMPv3, but does not know the user of “${credential}”`,
        remedy: 'Create the user on the device, or add the credential it has.',
      };
    case 'wrong digest':
      return {
        outcome: 'refused',
        reason: `knows the user of “${credential}”, but not its authentication password or protocol`,
        remedy: 'Correct the authentication password or protocol.',
      };
    case 'cannot decrypt':
      return {
        outcome: 'refused',
        reason: `cannot decrypt with “${credential}”`,
        remedy: 'Correct the privacy password or protocol.',
      };
    case 'mute':
      return {
        outcome: 'refused',
        reason: `speaks SNMPv3, but leaves the question of “${credential}” unanswered`,
        remedy:
          'Correct the privacy password or protocol: most agents drop silently what they cannot decrypt. Then look at access rules.',
      };
    case 'not in time window':
      return {
        outcome: 'refused',
        reason: `rejects the message time of “${credential}”`,
        remedy: 'The clock or boot counter of the agent jumps: restart its SNMP agent or correct its clock.',
      };
    case 'wrong credential':
      return {
        outcome: 'refused',
        reason: `${message} (“${credential}”)`,
        remedy: 'Give the credential the security level the device wants.',
      };
    case 'misbehaving':
      return {
        outcome: 'failed',
        reason: `answers against the standard: ${message}`,
        remedy: 'Look for an agent update of the device; report the place to its maker.',
      };
    case 'too slow':
      return {
        outcome: 'failed',
        reason: message,
        remedy: 'Give the scope a longer time limit, or look at what keeps the agent of the device busy.',
      };
    case 'over budget':
      return {
        outcome: 'failed',
        reason: message,
        remedy: 'See what makes it so long; if it is as it should be, let the scope wait longer for a device.',
      };
    case 'unreachable':
      return { outcome: 'failed', reason: message, remedy: 'Check routes and address translation of the scope.' };
    case 'not approved':
      return {
        outcome: 'failed',
        reason: message,
        remedy: 'An administrator approves the address and the port at the credential, if its secret belongs there.',
      };
    case 'cancelled':
      return { outcome: 'failed', reason: 'not asked: the survey was cancelled', remedy: 'Run the survey again.' };
    case 'failed':
      return { outcome: 'failed', reason: message, remedy: 'See the message; run the survey again.' };
  }
}

/** Where a scope holds no SNMP credential at all. */
export const unheardOverHttps: Outcome = {
  outcome: 'silent',
  reason: 'no answer over HTTPS',
  remedy:
    'Nothing may live here, or its HTTPS port is another, off or filtered. Check reachability, then access rules on the device.',
};

/** Of an address where services answered before. */
export const silentWays = (kinds: WayKind[]): Outcome => ({
  outcome: 'silent',
  reason: `${kinds.map((kind) => wayNames[kind]).join(' and ')} answered here before and ${kinds.length === 1 ? 'does' : 'do'} not now`,
  remedy: 'Look at its power and its port first, then at its HTTPS port and access rules.',
});

/** Whether a machine that answered before says nothing now, whether or not it still takes connections. */
export const tellsNothing = ({ outcome }: Outcome, faults: InterfaceFault[]): boolean =>
  outcome === 'silent' || (outcome === 'alive' && faults.at(-1)?.fault === 'mute');

/** Of an address that could be read neither by SNMP nor over HTTPS: whichever of the two came nearer. */
export function outcomeOfBoth(snmp: Outcome, faults: InterfaceFault[]): Outcome {
  const nearest = faults.at(-1);
  if (!nearest || snmp.outcome === 'refused') return snmp;
  const { fault, name, credential, message } = nearest;
  switch (fault) {
    case 'unauthorised':
      return {
        outcome: 'refused',
        reason: `${name} ${message} of “${credential}”`,
        remedy:
          'Correct the user or the password, or add the credential it has. It was tried once: more would lock the account.',
      };
    case 'forbidden':
      return { outcome: 'refused', reason: `${name} ${message}`, remedy: 'Give the user the right to read.' };
    case 'certificate changed':
      return {
        outcome: 'refused',
        reason: `${name} ${message}`,
        remedy:
          'If its certificate was renewed, trust the new one in Survey. If nobody renewed it, somebody may stand between: find out who.',
      };
    case 'certificate not trusted':
      return {
        outcome: 'refused',
        reason: `${name} ${message}`,
        remedy: 'Give it a certificate of an authority you trust.',
      };
    case 'absent':
      return snmp.outcome === 'silent' || snmp.outcome === 'alive'
        ? {
            outcome: 'alive',
            reason: `there is a machine: it ${message}. SNMP does not answer`,
            remedy: 'Switch SNMP on, or add a credential for the interface it has.',
          }
        : snmp;
    case 'refused':
      return snmp.outcome === 'silent'
        ? {
            outcome: 'alive',
            reason: `there is a machine, but it answers nothing we can read: SNMP is silent, and HTTPS ${message}`,
            remedy: 'Switch SNMP or Redfish on, or allow this machine in its access rules.',
          }
        : snmp;
    case 'mute':
      return snmp.outcome === 'silent' || snmp.outcome === 'alive'
        ? {
            outcome: 'alive',
            reason: `there is a machine: it takes connections for HTTPS, but was asked twice and gave ${message.startsWith('no answer') ? message : `no whole answer: it ${message}`}. SNMP does not answer`,
            remedy: 'It may be busy or starting: survey again, or give the scope a longer time limit.',
          }
        : snmp;
    case 'busy':
    case 'malformed':
    case 'too large':
    case 'over budget':
    case 'failed':
    case 'changed':
      return snmp.outcome === 'silent'
        ? { outcome: 'failed', reason: `${name} ${message}`, remedy: 'See the message; survey again later.' }
        : snmp;
    case 'no answer':
    case 'cancelled':
      return snmp;
  }
}

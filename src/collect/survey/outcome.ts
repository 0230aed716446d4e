import type { SourceFault } from '../source';

/** What came of asking one address, with what to do about it. */
export interface Outcome {
  outcome: 'answered' | 'partial' | 'silent' | 'refused' | 'failed';
  reason: string;
  remedy: string;
}

/** The fault of the credential that came nearest, in words. Silence means the least: another credential may have been heard. */
export function outcomeOf(faults: { credential: string; fault: SourceFault; message: string }[]): Outcome {
  const rank: SourceFault[] = ['cannot decrypt', 'wrong digest', 'not in time window', 'wrong credential', 'unknown user', 'misbehaving', 'failed', 'unreachable', 'cancelled', 'no answer'];
  const nearest = [...faults].sort((x, y) => rank.indexOf(x.fault) - rank.indexOf(y.fault))[0];
  if (!nearest) return { outcome: 'failed', reason: 'no credential to try', remedy: 'Add a credential to the scope.' };
  const { fault, credential, message } = nearest;
  switch (fault) {
    case 'no answer':
      return { outcome: 'silent', reason: 'no answer to any credential', remedy: 'Nothing may live here, or SNMP is off, filtered, or wants another community. Check reachability, then access rules on the device.' };
    case 'unknown user':
      return { outcome: 'refused', reason: `speaks SNMPv3, but does not know the user of “${credential}”`, remedy: 'Create the user on the device, or add the credential it has.' };
    case 'wrong digest':
      return { outcome: 'refused', reason: `knows the user of “${credential}”, but not its authentication password or protocol`, remedy: 'Correct the authentication password or protocol.' };
    case 'cannot decrypt':
      return { outcome: 'refused', reason: `cannot decrypt with “${credential}”`, remedy: 'Correct the privacy password or protocol.' };
    case 'not in time window':
      return { outcome: 'refused', reason: `rejects the message time of “${credential}”`, remedy: 'The clock or boot counter of the agent jumps: restart its SNMP agent or correct its clock.' };
    case 'wrong credential':
      return { outcome: 'refused', reason: `${message} (“${credential}”)`, remedy: 'Give the credential the security level the device wants.' };
    case 'misbehaving':
      return { outcome: 'failed', reason: `answers against the standard: ${message}`, remedy: 'Look for an agent update of the device; report the place to its maker.' };
    case 'unreachable':
      return { outcome: 'failed', reason: message, remedy: 'Check routes and address translation of the scope.' };
    case 'cancelled':
      return { outcome: 'failed', reason: 'not asked: the survey was cancelled', remedy: 'Run the survey again.' };
    case 'failed':
      return { outcome: 'failed', reason: message, remedy: 'See the message; run the survey again.' };
  }
}

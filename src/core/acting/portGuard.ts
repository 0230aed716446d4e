import type { PortKind } from '../estate/facts';
import { interrupts, type PortAct } from './portAct';

/** What is known to hang on a port. */
export interface Hanging {
  kind: PortKind;
  /** name of the aggregate it belongs to */
  lag: string | null;
  /** the device at the other end of its link, and its port */
  far: { device: string; port: string; passesOn: boolean } | null;
  /** machines heard on it */
  guests: string[];
  /** devices that would be cut off from the rest without it */
  cutOff: string[];
  /** machines on these devices */
  behind: number;
}

export interface Verdict {
  /** why the act is not for an operator; null where it is */
  refused: string | null;
  /** what must be typed before it is sent; null where nothing hangs there */
  nameToType: string | null;
}

/**
 * Whether an act may be sent as it is. What takes link or power away is refused on ports that lead on to the network, and asks for the name of the port wherever something hangs on it.
 * @param name of the port with its device, as it must be typed
 */
export function judgeAct(act: PortAct, hanging: Hanging, name: string): Verdict {
  if (!interrupts(act)) return { refused: null, nameToType: null };
  const { kind, far, guests } = hanging;
  const leads = far?.passesOn
    ? `it leads to ${far.device} ${far.port}`
    : kind === 'uplink'
      ? 'it leads on to the network'
      : kind === 'lag'
        ? 'it joins several links'
        : null;
  return {
    refused: leads === null ? null : `This is an uplink: ${leads}. Only an administrator may do this, and must say so.`,
    nameToType: leads !== null || far !== null || guests.length > 0 ? name : null,
  };
}

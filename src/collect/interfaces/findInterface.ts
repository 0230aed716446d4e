import type { LoginCredential } from '../../core/estate/credential';
import type { DeviceInterface, InterfaceKind } from '../../core/estate/facts';
import type { ClientOptions, ServicePlace } from '../https/httpsClient';
import { ResourceError } from '../https/resourceSource';
import { vendorInterfaces } from './registry';
import type { OpenInterface } from './vendorInterface';

export interface FoundInterface {
  kind: InterfaceKind;
  name: string;
  credential: string;
  opened: OpenInterface;
}

/** Why no interface could be read, the nearest to success last. */
export type InterfaceFault = { fault: ResourceError['fault']; name: string; credential: string; message: string };

/**
 * Looks for the interfaces that the credentials are for, and logs in with the first that is let in: the one that worked last time alone,
 * since wrong passwords lock accounts. Where nobody listens, the first question says so for all.
 */
export async function findInterface(
  place: ServicePlace,
  options: ClientOptions,
  credentials: LoginCredential[],
  known: DeviceInterface[],
): Promise<{ found: FoundInterface | null; faults: InterfaceFault[] }> {
  const faults: InterfaceFault[] = [];
  // silence is what most addresses answer: only who answered before is worth a second try to connect
  const probing = known.some(({ kind, address }) => kind !== 'snmp' && address === place.name)
    ? options
    : { ...options, connectRetries: 0 };
  const note = (error: unknown, name: string, credential = '') => {
    if (!(error instanceof ResourceError)) throw error;
    faults.push({ fault: error.fault, name, credential, message: error.message });
  };
  for (const candidate of vendorInterfaces) {
    const usable = credentials.filter(({ kind }) => kind === candidate.credentialKind);
    if (usable.length === 0) continue;
    try {
      if (!(await candidate.probe(place, probing))) continue;
    } catch (error) {
      note(error, 'HTTPS');
      return { found: null, faults };
    }
    const remembered = known.find(({ kind }) => kind === candidate.kind)?.credential;
    const first = usable.filter(({ name }) => name === remembered);
    for (const credential of first.length > 0 ? first : usable) {
      try {
        return {
          found: {
            kind: candidate.kind,
            name: candidate.name,
            credential: credential.name,
            opened: await candidate.open(place, options, credential),
          },
          faults,
        };
      } catch (error) {
        note(error, candidate.name, credential.name);
        if (!(error instanceof ResourceError) || error.fault !== 'unauthorised') break;
      }
    }
  }
  if (faults.length === 0)
    faults.push({
      fault: 'absent',
      name: 'HTTPS',
      credential: '',
      message: 'answers HTTPS, but with none of the interfaces there is a credential for',
    });
  return { found: null, faults };
}

import type { LoginCredential } from '../../core/estate/credential';
import type { WayIn, WayKind } from '../../core/estate/facts';
import type { ClientOptions, ServicePlace } from '../https/httpsClient';
import { ResourceError } from '../https/resourceSource';
import { vendorInterfaces } from './registry';
import type { OpenInterface, Recognised, VendorInterface } from './vendorInterface';

export interface FoundInterface {
  kind: WayKind;
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
  known: WayIn[],
): Promise<{ found: FoundInterface | null; faults: InterfaceFault[] }> {
  const faults: InterfaceFault[] = [];
  const note = (error: unknown, name: string, credential = '') => {
    if (!(error instanceof ResourceError)) throw error;
    faults.push({ fault: error.fault, name, credential, message: error.message });
    return error.fault;
  };
  const usableFor = ({ kind, credentialKind }: VendorInterface): LoginCredential[] => {
    const usable = credentials.filter((credential) => credential.kind === credentialKind);
    const remembered = known.find((way) => way.kind === kind)?.credential;
    const first = usable.filter(({ name }) => name === remembered);
    return first.length > 0 ? first : usable;
  };
  const logIn = async (candidate: VendorInterface): Promise<FoundInterface | null> => {
    const { kind, name } = candidate;
    for (const credential of usableFor(candidate)) {
      try {
        const opened = await candidate.open(place, options, credential);
        return { kind, name, credential: credential.name, opened };
      } catch (error) {
        if (note(error, name, credential.name) !== 'unauthorised') break;
      }
    }
    return null;
  };
  const recognise = recogniser(place, options, known);
  // whoever asks for a login before it says what it is gets one only once nothing else was recognised
  const perhaps: VendorInterface[] = [];
  for (const candidate of vendorInterfaces) {
    if (usableFor(candidate).length === 0) continue;
    try {
      const recognised = await recognise(candidate);
      if (recognised === 'perhaps') perhaps.push(candidate);
      if (recognised !== true) continue;
    } catch (error) {
      note(error, 'HTTPS');
      return { found: null, faults };
    }
    const found = await logIn(candidate);
    if (found) return { found, faults };
  }
  if (faults.length === 0)
    for (const candidate of perhaps) {
      const found = await logIn(candidate);
      if (found) return { found, faults };
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

/** Asks what answers at a place. Silence is what most addresses give: only who answered before, or a moment ago, is worth a second try to connect. */
function recogniser(place: ServicePlace, options: ClientOptions, known: WayIn[]) {
  let heard = known.some(({ kind, address }) => kind !== 'snmp' && address === place.name);
  return async (candidate: VendorInterface): Promise<Recognised> => {
    const recognised = await candidate.probe(place, heard ? options : { ...options, connectRetries: 0 });
    heard = true;
    return recognised;
  };
}

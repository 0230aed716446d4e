import type { LoginCredential } from '../../core/estate/credential';
import { approves } from '../../core/estate/approval';
import type { DeviceReport } from '../../core/estate/facts';
import { partWords, type HarvestPart } from '../../core/estate/harvest';
import { interpret } from '../../core/estate/interpret';
import type { ResourceAnswer } from '../../core/resources/resourceAnswer';
import { readScope, type Scope } from '../../core/estate/scope';
import type { Standing } from '../../core/firmware/doing/standing';
import { translate } from '../../core/values/translation';
import type { Store } from '../../store/base/database';
import { PinnedCertificates } from '../../store/certificates';
import { openCredentials } from '../../store/credentials';
import { readSignatures } from '../../store/programFiles';
import { updateKind } from '../../store/updateKind';
import type { KeptCourse } from '../../store/upgrades';
import { wayIn, type WayIn } from '../../store/wayIn';
import type { ClientOptions, ServicePlace } from '../https/httpsClient';
import { ResourceError } from '../https/resourceSource';
import type { OpenInterface } from '../interfaces/vendorInterface';
import { redfishFrom } from '../redfish/redfishInterface';
import { RedfishService } from '../redfish/redfishService';
import { openRestconf } from '../restconf/restconfInterface';
import { RedfishUpdate } from './redfishUpdate';
import { RestconfUpdate } from './restconfUpdate';
import type { OpenedForUpdate } from './takeTurn';
import type { UpdateWay } from './updateWay';

/** How a device takes an image, by its interface. */
export const waysOf = (told: ReturnType<typeof updateKind>): UpdateWay['ways'] =>
  'kind' in told && told.kind === 'redfish'
    ? { startsByItself: true, hasNext: false }
    : { startsByItself: false, hasNext: true };

/** Lets itself in to the device of a course, to change its firmware. @throws ResourceError with why that cannot be */
export async function openForUpdate(store: Store, kept: KeptCourse, url: string): Promise<OpenedForUpdate> {
  const told = updateKind(store, kept.deviceId);
  if ('reason' in told) throw new ResourceError('absent', told.reason);
  const { kind } = told;
  const way = wayIn(store.db, kept.deviceId, kind);
  if ('reason' in way) throw new ResourceError('absent', way.reason);
  const read = readScope(way.scope);
  if ('mistakes' in read) throw new ResourceError('absent', `the scope “${way.scope.name}” has a mistake`);
  const target = {
    ...translate(way.address, read.scope.translations, read.scope.httpsPort, 'httpsPort'),
    name: way.address,
  };
  const credentials = openCredentials(store, way.scope.writeCredentials, 'write').filter(
    (one): one is LoginCredential => one.kind === kind && approves(one, target),
  );
  const options = optionsFor(store, read.scope);
  let fault = new ResourceError('unauthorised', `no ${kind} user that may act on devices may be sent there`);
  for (const credential of credentials) {
    try {
      return kind === 'redfish'
        ? await overRedfish(way, target, options, credential, kept, url)
        : await overRestconf(store, way, target, options, credential);
    } catch (error) {
      if (!(error instanceof ResourceError)) throw error;
      fault = error;
      // a wrong password is no reason to be silent with the next
      if (error.fault !== 'unauthorised') break;
    }
  }
  throw fault;
}

function optionsFor({ db }: Store, scope: Scope): ClientOptions {
  return {
    timeoutMs: scope.timeoutMs * 5,
    connectMs: scope.timeoutMs,
    concurrency: 2,
    certificates: new PinnedCertificates(db, () => new Date()),
    cancelled: () => false,
    ...(scope.authorities && { authorities: scope.authorities }),
  };
}

async function overRedfish(
  { device }: WayIn,
  target: ServicePlace,
  options: ClientOptions,
  credential: LoginCredential,
  { name }: KeptCourse,
  url: string,
): Promise<OpenedForUpdate> {
  const service = await RedfishService.open(target, options, credential);
  const opened = redfishFrom(service);
  const read = () => opened.read({ address: target.name, credential: credential.name, interpret: never });
  return {
    way: new RedfishUpdate(service, name, url, fileIn(url)),
    standing: async () => standingOf(await read(), device.serial),
    close: () => opened.close(),
  };
}

/** Redfish is told as facts at once. */
const never = (): DeviceReport => {
  throw new Error('a management controller gives no harvest');
};

async function overRestconf(
  store: Store,
  { device }: WayIn,
  target: ServicePlace,
  options: ClientOptions,
  credential: LoginCredential,
): Promise<OpenedForUpdate> {
  const signatures = readSignatures(store.folder);
  const told = signatures.find(({ id }) => id === device.signature)?.update?.restconf;
  if (!told) throw new ResourceError('absent', 'its signature does not say how its firmware is changed');
  const opened: OpenInterface & { caller: ConstructorParameters<typeof RestconfUpdate>[0] } = await openRestconf(
    target,
    options,
    credential,
  );
  return {
    way: new RestconfUpdate(opened.caller, told),
    standing: async () => {
      const answer = await opened.read({
        address: target.name,
        credential: credential.name,
        interpret: (harvest) => interpret(harvest, signatures),
      });
      return standingOf(answer, device.serial);
    },
    close: () => opened.close(),
  };
}

const fileIn = (url: string): string => decodeURIComponent(url.split('/').at(-1) ?? '');

/** What is held against what it was comes from these: where one broke off, nothing could be said of what is missing. */
const heldParts: readonly HarvestPart[] = ['interfaces', 'bridge', 'lldp', 'routing'];

/** What of a device is held against what it was. @throws ResourceError where it tells nothing of itself or not all of it, or another box answers there */
function standingOf(answer: ResourceAnswer | null, serial: string): Standing {
  if (!answer) throw new ResourceError('failed', 'it tells nothing of itself');
  const { report, parts } = answer;
  for (const part of heldParts) {
    const told = parts[part];
    if (told?.state === 'failed')
      throw new ResourceError('failed', `its ${partWords[part]} cannot be read: ${told.reason}`);
  }
  const { device, ports, neighbours, peers, sightings } = report;
  if (serial !== '' && device.serial !== '' && device.serial !== serial)
    throw new ResourceError('failed', `another box answers there: its serial is ${device.serial}, not ${serial}`);
  return {
    portsUp: ports.filter(({ oper }) => oper === 'up').map(({ name }) => name),
    neighbours: neighbours.map(({ systemName, chassisId, port }) => `${systemName || chassisId} on ${port}`),
    endpoints: sightings.forwarding.map(({ mac, port }) => `${mac} on ${port}`),
    peers: peers.filter(({ up }) => up).map(({ protocol, address }) => `${protocol} ${address}`),
  };
}

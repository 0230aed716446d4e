import { codeOfReason, remedyOfGap, type Gap, type GapCode } from '../../core/estate/gap';
import { approves, notApproved } from '../../core/estate/approval';
import type { Credential, LoginCredential } from '../../core/estate/credential';
import { isLogin } from '../../core/estate/credentialKind';
import { addingParts, coveredParts, harvestParts, missingParts, partWords } from '../../core/estate/harvest';
import type { DeviceReport } from '../../core/estate/facts';
import { wayNames } from '../../core/estate/ways';
import { interpret } from '../../core/estate/interpret';
import { beyondBounds } from '../../core/estate/interpretFaults';
import { scopeDefaults, type Scope } from '../../core/estate/scope';
import type { AddressHint, CollectedAnswer, CollectedVisit, Outcome } from '../../core/estate/visit';
import type { ResourceAnswer } from '../../core/resources/resourceAnswer';
import type { Reading } from '../../core/signatures/reading';
import { recogniseReport } from '../../core/signatures/recogniseReport';
import type { Signature } from '../../core/signatures/signature';
import type { Unlisted } from '../../core/switching/unlisted';
import { translate } from '../../core/values/translation';
import { isStoreFault } from '../../store/base/storeFault';
import type { CertificateMemory } from '../https/certificates';
import { ResourceError, type ResourceSource } from '../https/resourceSource';
import { resourceReadings } from '../interfaces/resourceReadings';
import { findInterface, type FoundInterface, type InterfaceFault } from '../interfaces/findInterface';
import type { AnswerContext, OpenInterface } from '../interfaces/vendorInterface';
import { Budget } from '../budget';
import { readDevice, readSystem } from '../agent/readDevice';
import { inParallel } from '../inParallel';
import { redfishFrom } from '../redfish/redfishInterface';
import { Semaphore } from '../semaphore';
import { untilCancelled } from '../untilCancelled';
import { probesAtOnce } from './probesAtOnce';
import { LiveAgent } from '../snmp/liveAgent';
import { UdpTransport } from '../snmp/udpTransport';
import { lookUpMacs, type HeardMac } from '../snmp/forwardingLookup';
import { SourceError, type VarbindSource } from '../source';
import { heardOut, listenOn, outcomeOf, outcomeOfBoth, silentWays, tellsNothing, unheardOverHttps } from './outcome';
import { SnmpProbe, type CredentialFault, type Probed } from './snmpProbe';
import { discardPort, wakeEndpoints } from './wakeEndpoints';

const inFlightPerDevice = 2;
export const defaultPacketsPerSecond = 10_000;
/** Each makes a gateway ask the whole segment for a machine: they are to come slowly. */
const wakesPerSecond = 500;
/** Addresses that are asked whether anybody is there, at the same time; devices being read are fewer, as the scope says. */
/** Requests at the same time to one HTTPS service, and services that are looked for at the same time. */
const requestsPerService = 4;
const httpsAtOnce = 256;
/** Management controllers think longer than agents. */
const httpsPatience = 5;

/** What one switch is asked once more. */
export interface ListeningAsk {
  deviceId: number;
  address: string;
  /** the one that it let in before */
  credential: string;
  /** of a switch that keeps a forwarding table in a context for each VLAN: what the context is called */
  contextOf: ((vlan: number) => string) | null;
  machines: Unlisted[];
}

/** Between a machine's answer and its row in the table of its switch lies next to nothing. */
const learningMs = 300;

/** A place among the devices being read, held until what was read is taken. */
interface Slot {
  free: () => void;
}

/** Takes what was collected at one address; while it does, the next one waits. */
export type Take = (visit: CollectedVisit) => void | Promise<void>;

export interface ReaderPlan {
  scope: Scope;
  credentials: Credential[];
  signatures: Signature[];
  certificates: CertificateMemory;
  /** addresses whose answers come from files instead of the wire: walks, and trees of Redfish resources */
  files?: Map<string, VarbindSource>;
  trees?: Map<string, ResourceSource>;
  /** all addresses together; the default is polite to a network of any size */
  packetsPerSecond?: number;
  /** how many addresses are asked at once, where not as the scope says */
  atOnce?: number;
  cancelled: () => boolean;
  hintOf: (address: string) => AddressHint;
  /** an address answered, and its reading begins */
  onReading?: (address: string, credential: string) => void;
}

/** Asks addresses, from first packet to facts, by every way in that the scope has a credential for. Writes to no store: the same at home and at another site. */
export class AddressReader {
  readonly #transport: UdpTransport;
  readonly #readers: Semaphore;
  readonly #services = new Semaphore(httpsAtOnce);
  readonly #agents: SnmpProbe;
  readonly #logins: LoginCredential[];
  /** silent addresses that may still answer */
  readonly #hearing = new Set<Promise<void>>();
  #hearingFault: { error: unknown } | null = null;

  constructor(readonly plan: ReaderPlan) {
    this.#transport = new UdpTransport({ packetsPerSecond: plan.packetsPerSecond ?? defaultPacketsPerSecond });
    this.#readers = new Semaphore(plan.scope.concurrency);
    this.#agents = new SnmpProbe(this.#transport, plan.scope, plan.credentials, plan.cancelled);
    this.#logins = plan.credentials.filter((credential): credential is LoginCredential => isLogin(credential.kind));
  }

  close(): void {
    this.#transport.close();
  }

  /** Touches quiet endpoints, so that address tables know them. */
  async wake(addresses: string[]): Promise<void> {
    const { scope, packetsPerSecond, cancelled } = this.plan;
    await wakeEndpoints(addresses, {
      placeOf: (address) => translate(address, scope.translations, discardPort),
      packetsPerSecond: Math.min(wakesPerSecond, packetsPerSecond ?? wakesPerSecond),
      cancelled,
    });
  }

  /**
   * Asks switches once more, for machines that they ought to list and did not: the machines are touched, where the scope asks their addresses anyway, and the
   * switches asked for these rows alone. A switch that gives no answer to that has said what it had to say before.
   */
  async listenAgain(
    asks: readonly ListeningAsk[],
    take: (ask: ListeningAsk, heard: HeardMac[]) => void,
  ): Promise<void> {
    const { scope, cancelled } = this.plan;
    const asked = new Set([...scope.addresses, ...scope.wake]);
    const touched = asks.flatMap(({ machines }) =>
      machines.flatMap(({ addresses }) => addresses.filter((address) => asked.has(address))),
    );
    await this.wake([...new Set(touched)]);
    if (touched.length > 0) await new Promise((resolve) => setTimeout(resolve, learningMs));
    await inParallel([...asks], scope.concurrency, async (ask) => {
      if (cancelled()) return;
      const probed = await this.#agents.probe(ask.address, ask.credential);
      if (!('source' in probed)) return;
      try {
        take(ask, await lookUpMacs(probed.source, ask.machines, ask.contextOf));
      } catch (error) {
        if (!(error instanceof SourceError)) throw error;
      } finally {
        probed.source.close();
      }
    });
  }

  /** Each address once, many at the same time; what was collected is handed on as it comes. An address left out since the survey was cancelled is not handed on. */
  async readAll(addresses: string[], take: Take): Promise<void> {
    const { cancelled, scope, atOnce = probesAtOnce(scope.concurrency) } = this.plan;
    const reading = inParallel(addresses, atOnce, (address) => this.#read(address, take));
    await untilCancelled(
      reading.then(() => this.#allHeard()),
      cancelled,
    );
  }

  /** One address. What goes wrong with it is its outcome; a store that cannot be written to is not its fault. */
  async #read(address: string, take: Take): Promise<void> {
    const started = performance.now();
    const visit: CollectedVisit = {
      address,
      outcome: null,
      credential: '',
      answers: [],
      missing: [],
      phases: {},
      milliseconds: 0,
    };
    const slot: Slot = { free: () => undefined };
    try {
      const toldOf = await this.#collect(visit, slot).catch((error: unknown) => {
        if (isStoreFault(error)) throw error;
        visit.outcome = brokenReading(address, error);
        return true;
      });
      visit.milliseconds = Math.round(performance.now() - started);
      if (toldOf && visit.outcome?.outcome === 'silent') {
        // others need not wait while it is
        const hearing = this.#hearOut(visit, visit.outcome, take);
        this.#hearing.add(hearing);
        hearing
          .catch((error: unknown) => (this.#hearingFault ??= { error }))
          .finally(() => this.#hearing.delete(hearing));
        return;
      }
      // once it was cancelled the survey may be sealed already: only what was read before counts
      if (toldOf && !this.plan.cancelled()) await take(visit);
    } finally {
      // the next is read when this one was taken: what waits to be taken does not pile up
      slot.free();
    }
  }

  /** @throws what kept one of them from being taken */
  async #allHeard(): Promise<void> {
    while (this.#hearing.size > 0) await Promise.allSettled(this.#hearing);
    if (this.#hearingFault) throw this.#hearingFault.error;
  }

  /** A silent address is told of a little later. */
  async #hearOut(visit: CollectedVisit, silence: Outcome, take: Take): Promise<void> {
    const { scope, cancelled } = this.plan;
    const place = translate(visit.address, scope.translations, scope.port);
    visit.outcome = await heardOut(silence, this.#transport, place, scope.timeoutMs);
    if (!cancelled()) await take(visit);
  }

  #servicePlace(address: string): { address: string; port: number } {
    return translate(address, this.plan.scope.translations, this.plan.scope.httpsPort, 'httpsPort');
  }

  #loginsFor(address: string): LoginCredential[] {
    const place = this.#servicePlace(address);
    return this.#logins.filter((credential) => approves(credential, place));
  }

  /** Of an address to which no secret of the scope may be sent: nothing is sent there at all. */
  #keptBack(address: string): Outcome | null {
    const { scope, credentials, files, trees } = this.plan;
    if (files?.has(address) || trees?.has(address) || credentials.length === 0) return null;
    const agent = translate(address, scope.translations, scope.port);
    const service = this.#servicePlace(address);
    const placeOf = ({ kind }: Credential) => (isLogin(kind) ? service : agent);
    if (credentials.some((credential) => approves(credential, placeOf(credential)))) return null;
    const [first] = credentials;
    return first ? notApproved(credentials, placeOf(first)) : null;
  }

  /** @returns false where there is nothing to tell, since the survey was cancelled meanwhile */
  async #collect(visit: CollectedVisit, slot: Slot): Promise<boolean> {
    const { address, phases, missing } = visit;
    const { plan } = this;
    if (plan.cancelled()) return false;
    visit.outcome = this.#keptBack(address);
    if (visit.outcome) return true;
    const started = performance.now();
    const hint = plan.hintOf(address);
    const known = (hint.interfaces ?? []).flatMap((way) =>
      way.address === address && way.kind !== 'snmp' ? [way.kind] : [],
    );
    const [probed, service] = await Promise.all([this.#probe(address, hint), this.#findService(address, hint)]);
    phases.probe = (performance.now() - started) / 1000;
    if (!('source' in probed) && !service.found) {
      const unheard = (faults: CredentialFault[]) =>
        faults.length === 0 && this.#loginsFor(address).length > 0 ? unheardOverHttps : outcomeOf(faults);
      visit.outcome = 'outcome' in probed ? probed : outcomeOfBoth(unheard(probed), service.faults);
      if (known.length > 0 && tellsNothing(visit.outcome, service.faults)) visit.outcome = silentWays(known);
      return !plan.cancelled() || visit.outcome.outcome !== 'silent';
    }
    slot.free = await this.#readers.take();
    visit.credential = 'source' in probed ? probed.credential : (service.found?.credential ?? '');
    try {
      if (plan.cancelled()) return false;
      plan.onReading?.(address, visit.credential);
      if ('source' in probed) visit.answers.push(await this.#readAgent(address, probed, phases, hint.readings));
      if (service.found) await this.#readService(visit, service.found, hint.readings ?? []);
    } finally {
      if ('source' in probed) probed.source.close();
      await service.found?.opened.close();
    }
    for (const { parts, told } of visit.answers)
      if (!told)
        missing.push(
          ...missingParts({ parts }).map(({ part, reason }) => ({
            part: partWords[part],
            reason,
            code: codeOfReason(reason),
          })),
        );
    const nearest = service.faults.at(-1);
    if (!service.found && nearest) {
      const told = service.faults.filter(
        ({ fault }) =>
          fault === 'unauthorised' || fault === 'certificate changed' || fault === 'certificate not trusted',
      );
      if (told.length > 0)
        missing.push(...told.map(({ name, message }) => ({ part: name, reason: message, code: 'other' as const })));
      // a way in that was known here and is silent, while another answers
      else
        missing.push(
          ...known.map((kind) => ({
            part: wayNames[kind],
            reason: nearest.fault === 'no answer' ? 'does not answer' : nearest.message,
            code: 'other' as const,
          })),
        );
    }
    return true;
  }

  async #readAgent(
    address: string,
    { source, system, credential }: Probed,
    phases: Record<string, number>,
    readings: Reading[] = [],
  ): Promise<CollectedAnswer> {
    const { scope, signatures, files, cancelled } = this.plan;
    const started = performance.now();
    if (source instanceof LiveAgent) {
      const { deviceSeconds = scopeDefaults.deviceSeconds } = scope;
      source.budget = new Budget({ waitMs: deviceSeconds * 1000 }, undefined, () => this.#transport.deafMs);
    }
    const looking = scope.defaultCommunities && !files?.has(address);
    const [harvest, delivered] = await Promise.all([
      readDevice(source, system, {
        address,
        credential,
        signatures,
        readings,
        inFlight: inFlightPerDevice,
        now: () => performance.now(),
        ...(!files?.has(address) && { wallClock: () => Date.now(), hearOut: () => listenOn(scope.timeoutMs) }),
        cancelled,
      }),
      looking ? this.#agents.defaultCommunities(address) : [],
    ]);
    if (looking) harvest.parts.security = { state: 'whole', seconds: 0 };
    phases.collect = (performance.now() - started) / 1000;
    for (const part of harvestParts) {
      const state = harvest.parts[part];
      if (state) phases[part] = state.seconds;
    }
    const interpretStarted = performance.now();
    const report = interpret(harvest, signatures);
    phases.interpret = (performance.now() - interpretStarted) / 1000;
    if (delivered.length > 0) report.device.defaultCommunities = delivered;
    return { kind: 'snmp', credential, report, parts: harvest.parts };
  }

  async #readService(
    { address, phases, missing, answers }: CollectedVisit,
    { kind, name, credential, opened }: FoundInterface,
    wanted: Reading[],
  ): Promise<void> {
    const { signatures } = this.plan;
    const started = performance.now();
    const answer = await readOrTell(opened, name, missing, {
      address,
      credential,
      interpret: (harvest) => interpret(harvest, signatures),
    });
    phases[kind] = (performance.now() - started) / 1000;
    if (!answer) return;
    const { others = [], ...own } = answer;
    if (kind === 'redfish') own.report = recogniseReport(own.report, signatures);
    if (opened.resource)
      await addReadings(
        own.report,
        [...(signatures.find(({ id }) => id === own.report.device.signature)?.readings ?? []), ...wanted],
        opened.resource,
      );
    answers.push({ kind, credential, ...own }, ...others.map((other) => ({ kind, credential, ...other, told: true })));
  }

  async #probe(address: string, hint: AddressHint): Promise<Probed | CredentialFault[] | Outcome> {
    if (this.plan.trees?.has(address)) return [];
    const file = this.plan.files?.get(address);
    if (!file) {
      // what was learned of a server's system says nothing of its management controller's address
      const otherWay = hint.interfaces?.some((own) => own.kind !== 'snmp' && own.address === address);
      return this.#agents.probe(address, otherWay ? undefined : hint.credential);
    }
    const system = await readSystem(file);
    return system
      ? { source: file, system, credential: 'file' }
      : {
          outcome: 'failed',
          reason: 'the walk holds no system group',
          remedy: 'Take the walk from .1.3.6.1 or at least with the system group in it.',
        };
  }

  /** Redfish, RESTCONF or a controller at the address; nobody is looked for without a credential for one of them. */
  async #findService(
    address: string,
    hint: AddressHint,
  ): Promise<{ found: FoundInterface | null; faults: InterfaceFault[] }> {
    const { scope, trees, files, certificates, cancelled } = this.plan;
    const tree = trees?.get(address);
    if (tree)
      return { found: { kind: 'redfish', name: 'Redfish', credential: 'file', opened: redfishFrom(tree) }, faults: [] };
    const logins = this.#loginsFor(address);
    if (logins.length === 0 || files?.has(address)) return { found: null, faults: [] };
    const free = await this.#services.take();
    try {
      const place = this.#servicePlace(address);
      const options = {
        timeoutMs: scope.timeoutMs * httpsPatience,
        budget: new Budget({ waitMs: (scope.deviceSeconds ?? scopeDefaults.deviceSeconds) * 1000 * httpsPatience }),
        connectMs: scope.timeoutMs,
        connectRetries: Math.max(1, scope.retries),
        concurrency: requestsPerService,
        certificates,
        cancelled,
        ...(scope.authorities && { authorities: scope.authorities }),
      };
      return await findInterface({ ...place, name: address }, options, logins, hint.interfaces ?? []);
    } finally {
      free();
    }
  }
}

/** Values of resources, and what is beyond its bounds among them. */
async function addReadings(
  report: DeviceReport,
  wanted: Reading[],
  resource: NonNullable<OpenInterface['resource']>,
): Promise<void> {
  const values = await resourceReadings(wanted, resource);
  if (values.length === 0) return;
  report.volatile = { ...report.volatile, readings: [...(report.volatile.readings ?? []), ...values] };
  report.faults = [...report.faults, ...values.flatMap(beyondBounds)];
}

/** Where a fault of ours spoils one address: the others go on. */
export function brokenReading(address: string, error: unknown): Outcome {
  console.error(`${address}:`, error);
  return {
    outcome: 'failed',
    reason: `its answers broke the reading of them: ${(error as Error).message}`,
    remedy: 'This is a fault of Bolide. Take a walk of the device and survey it from the file to have it looked into.',
  };
}

/** The outcome that follows from what was collected. */
export function outcomeOfAnswers({ answers, missing }: CollectedVisit): Outcome {
  const first = missing[0];
  if (answers.length === 0)
    return {
      outcome: 'failed',
      reason: first ? `${first.part}: ${first.reason}` : 'tells nothing of itself',
      remedy: 'See what the service itself answers; a newer firmware may help.',
    };
  if (first)
    return {
      outcome: 'partial',
      reason: `without ${missing.map(({ part }) => part).join(', ')}: ${first.reason}`,
      remedy: `What was known of these parts stays, with its age. ${remedyOfGap(first)}`,
    };
  return { outcome: 'answered', reason: '', remedy: '' };
}

/** What a commit needs to know of an answer's parts. */
export function partsOf({ parts }: CollectedAnswer) {
  return {
    covered: coveredParts({ parts }),
    adding: addingParts({ parts }),
    asked: new Set(harvestParts.filter((part) => parts[part] !== undefined)),
  };
}

/** What an interface tells, or null with why not among what is missing. */
async function readOrTell(
  opened: OpenInterface,
  name: string,
  missing: Gap[],
  context: AnswerContext,
): Promise<ResourceAnswer | null> {
  try {
    const answer = await opened.read(context);
    if (!answer) missing.push({ part: name, reason: 'tells nothing of itself', code: 'other' });
    return answer;
  } catch (error) {
    if (!(error instanceof ResourceError)) throw error;
    missing.push({ part: name, reason: error.message, code: codeOfFault(error.fault) });
    return null;
  }
}

const codeOfFault = (fault: ResourceError['fault']): GapCode => {
  if (fault === 'changed') return 'changed';
  if (fault === 'over budget') return 'slow';
  return fault === 'no answer' || fault === 'mute' ? 'silent' : 'other';
};

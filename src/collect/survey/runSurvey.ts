import { eq, max } from 'drizzle-orm';
import type { Credential, LoginCredential } from '../../core/estate/credential';
import type { DeviceReport, InterfaceKind } from '../../core/estate/facts';
import { coveredParts, harvestParts, missingParts, partWords, type Harvest } from '../../core/estate/harvest';
import { interpret, siteOf, type SiteRule } from '../../core/estate/interpret';
import type { Scope } from '../../core/estate/scope';
import type { ResourceAnswer, ToldDevice } from '../../core/resources/resourceAnswer';
import type { Signature } from '../../core/signatures/signature';
import { conclude } from '../../core/topology/conclude';
import { translate } from '../../core/values/translation';
import { PinnedCertificates } from '../../store/certificates';
import { commitReport, Identities } from '../../store/commitReport';
import { inTransaction, isDiskFull, isStoreFault, type Db, type Store } from '../../store/database';
import { device, survey, told, visit } from '../../store/schema';
import { ResourceError, type ResourceSource } from '../https/resourceSource';
import { findInterface, type FoundInterface, type InterfaceFault } from '../interfaces/findInterface';
import type { AnswerContext, OpenInterface } from '../interfaces/vendorInterface';
import { inParallel, readDevice, readSystem } from '../readDevice';
import { redfishFrom } from '../redfish/redfishInterface';
import { Slots } from '../slots';
import { UdpTransport } from '../snmp/udpTransport';
import type { VarbindSource } from '../source';
import { AnsweredDevices } from './answeredDevices';
import { readKnownEstate, writeConclusion } from './conclusion';
import { NeighbourTrail } from './neighbourTrail';
import { outcomeOf, outcomeOfBoth, unheardOverHttps, type Outcome } from './outcome';
import { wakeEndpoints } from './wakeEndpoints';
import { SnmpProbe, type CredentialFault, type Probed } from './snmpProbe';
import { summarise, type SurveySummary } from './surveySummary';

export interface SurveyPlan {
  scope: Scope;
  /** as the person wrote it, for the record */
  scopeName: string;
  credentials: Credential[];
  signatures: Signature[];
  siteRules: SiteRule[];
  /** addresses whose answers come from files instead of the wire: walks, and trees of Redfish resources */
  files?: Map<string, VarbindSource>;
  trees?: Map<string, ResourceSource>;
  /** files that could not be read: told as failures */
  unreadable?: { file: string; reason: string }[];
  /** a survey that was broken off and is to be finished */
  resume?: number;
  /** wall clock; the demo tells a story with it */
  clock?: () => Date;
  cancelled?: () => boolean;
  onStarted?: (surveyId: number) => void;
  /** all addresses together; the default is polite to a network of any size */
  packetsPerSecond?: number;
}

/** Asks every address of a scope, commits each device as it comes, concludes, and seals. */
export async function runSurvey(store: Store, plan: SurveyPlan): Promise<SurveySummary> {
  return new SurveyRun(store, plan).run();
}

const inFlightPerDevice = 2;
const defaultPacketsPerSecond = 10_000;
/** Each makes a gateway ask the whole segment for a machine: they are to come slowly. */
const wakesPerSecond = 500;
/** Addresses that are asked whether anybody is there, at the same time; devices being read are fewer, as the scope says. */
const probesAtOnce = 4096;
/** Requests at the same time to one HTTPS service, and services that are looked for at the same time. */
const requestsPerService = 4;
const httpsAtOnce = 256;
/** Management controllers think longer than agents. */
const httpsPatience = 5;

/** What one way in to an address gave: facts with their parts, or why there are none. */
interface Answered {
  kind: InterfaceKind;
  credential: string;
  report: DeviceReport;
  parts: Harvest['parts'];
  others?: ToldDevice[];
}

class SurveyRun {
  readonly #db: Db;
  readonly #phases = { probe: 0, collect: 0, interpret: 0, commit: 0, conclude: 0 };
  readonly #kinds = new Map<number, 'new' | 'known' | 'replaced'>();
  readonly #answered = new AnsweredDevices();
  readonly #clock: () => Date;
  #surveyId = 0;
  #seq = 0;
  readonly #transport: UdpTransport;
  readonly #readers: Slots;
  readonly #services = new Slots(httpsAtOnce);
  readonly #trail = new NeighbourTrail();
  readonly #agents: SnmpProbe;
  readonly #logins: LoginCredential[];
  readonly #certificates: PinnedCertificates;
  #identities!: Identities;
  #credentialByDevice = new Map<number, string>();

  constructor(store: Store, readonly plan: SurveyPlan) {
    this.#db = store.db;
    this.#clock = plan.clock ?? (() => new Date());
    this.#transport = new UdpTransport({ packetsPerSecond: plan.packetsPerSecond ?? defaultPacketsPerSecond });
    this.#readers = new Slots(plan.scope.concurrency);
    this.#agents = new SnmpProbe(this.#transport, plan.scope, plan.credentials, () => this.#cancelled());
    this.#logins = plan.credentials.filter((credential): credential is LoginCredential => credential.kind === 'redfish' || credential.kind === 'restconf' || credential.kind === 'controller');
    this.#certificates = new PinnedCertificates(this.#db, this.#clock);
  }

  #cancelled(): boolean {
    return this.plan.cancelled?.() ?? false;
  }

  async run(): Promise<SurveySummary> {
    const started = performance.now();
    const startedAt = this.#begin();
    const { scope } = this.plan;
    const done = new Set(this.#db.select().from(visit).where(eq(visit.surveyId, this.#surveyId)).all().filter(({ state }) => state === 'done').map(({ address }) => address));
    const open = scope.addresses.filter((address) => !done.has(address));
    try {
      await wakeEndpoints(scope.wake, { placeOf: (address) => translate(address, scope.translations, scope.port).address, packetsPerSecond: Math.min(wakesPerSecond, this.plan.packetsPerSecond ?? wakesPerSecond), cancelled: () => this.#cancelled() });
      await inParallel(open, Math.max(probesAtOnce, scope.concurrency), (address) => this.#visit(address));
      await this.#followNeighbours(new Set([...scope.addresses, ...done]));
      this.#conclude();
      return this.#seal(startedAt, (performance.now() - started) / 1000);
    } catch (error) {
      this.#markFailed();
      throw error;
    } finally {
      this.#transport.close();
    }
  }

  /** From what answered on to the management addresses of its neighbours, as many steps as the scope says. */
  async #followNeighbours(asked: Set<string>): Promise<void> {
    const { scope } = this.plan;
    for (let step = 0; step < scope.neighbourSteps; step++) {
      const next = this.#trail.next((address) => {
        const known = this.#identities.byAddress(address);
        // a device that answered on one of its addresses need not be asked on another
        return !asked.has(address) && scope.follows(address) && !(known !== null && this.#answered.knows(known));
      });
      if (next.length === 0 || this.#cancelled()) return;
      for (const address of next) asked.add(address);
      this.#db.update(survey).set({ asked: asked.size }).where(eq(survey.id, this.#surveyId)).run();
      await inParallel(next, Math.max(probesAtOnce, scope.concurrency), (address) => this.#visit(address));
    }
  }

  /** Where not even this can be written, the survey stays unsealed, which says the same. */
  #markFailed(): void {
    try {
      this.#db.update(survey).set({ state: 'failed' }).where(eq(survey.id, this.#surveyId)).run();
    } catch (error) {
      if (!isDiskFull(error)) throw error;
    }
  }

  #begin(): string {
    const { scope, scopeName, resume } = this.plan;
    if (resume !== undefined) {
      const row = this.#db.select().from(survey).where(eq(survey.id, resume)).get();
      if (!row) throw new Error(`survey ${resume} does not exist`);
      this.#surveyId = resume;
      this.#seq = this.#db.select({ seq: max(visit.seq) }).from(visit).where(eq(visit.surveyId, resume)).get()?.seq ?? 0;
      for (const known of this.#db.select().from(visit).where(eq(visit.surveyId, resume)).all()) {
        if (known.deviceId !== null && (known.outcome === 'answered' || known.outcome === 'partial')) this.#answered.add(known.deviceId, 'snmp');
      }
    } else {
      const { addresses: _addresses, wake: _wake, ...shown } = scope;
      this.#surveyId = this.#db.insert(survey).values({ scopeName, scope: shown, state: 'running', startedAt: this.#clock().toISOString(), asked: scope.addresses.length, phase: 'collect' }).returning({ id: survey.id }).get().id;
    }
    this.#identities = new Identities(this.#db, this.#surveyId);
    for (const { id, credential } of this.#db.select().from(device).all()) if (credential) this.#credentialByDevice.set(id, credential);
    this.plan.onStarted?.(this.#surveyId);
    return this.#db.select().from(survey).where(eq(survey.id, this.#surveyId)).get()?.startedAt ?? '';
  }

  #note(address: string, row: Partial<typeof visit.$inferInsert>): void {
    const seq = ++this.#seq;
    const path = this.#trail.pathTo(address);
    const values = { surveyId: this.#surveyId, address, state: 'asking' as const, ...(path && { path }), ...row, seq };
    this.#db.insert(visit).values(values).onConflictDoUpdate({ target: [visit.surveyId, visit.address], set: values }).run();
  }

  /** One address. What goes wrong with it is its outcome, never the survey's; only a store that cannot be written to ends the survey. */
  async #visit(address: string): Promise<void> {
    try {
      await this.#ask(address);
    } catch (error) {
      if (isStoreFault(error)) throw error;
      console.error(`${address}:`, error);
      this.#note(address, { state: 'done', outcome: 'failed', reason: `its answers broke the reading of them: ${(error as Error).message}`, remedy: 'This is a fault of Bolide. Take a walk of the device and survey it from the file to have it looked into.' });
    }
  }

  /** From first packet to committed device, by every way in that the scope has a credential for. */
  async #ask(address: string): Promise<void> {
    const started = performance.now();
    const known = this.#identities.byAddress(address);
    if (this.#cancelled()) return;
    const phases: Record<string, number> = {};
    const finish = (outcome: Outcome, more: Partial<typeof visit.$inferInsert> = {}) =>
      this.#note(address, { state: 'done', ...outcome, phases, seconds: Math.round(performance.now() - started), ...more });

    const [probed, service] = await Promise.all([this.#probe(address, known), this.#findService(address, known)]);
    phases.probe = (performance.now() - started) / 1000;
    this.#phases.probe += phases.probe;
    if (!('source' in probed) && !service.found) {
      const unheard = (faults: CredentialFault[]) => (faults.length === 0 && this.#logins.length > 0 ? unheardOverHttps : outcomeOf(faults));
      const outcome = 'outcome' in probed ? probed : outcomeOfBoth(unheard(probed), service.faults);
      if (!this.#cancelled() || outcome.outcome !== 'silent') finish(outcome, { deviceId: known });
      return;
    }
    const freeSlot = await this.#readers.take();
    const missing: { part: string; reason: string }[] = [];
    let deviceId: number | null = null;
    const credential = 'source' in probed ? probed.credential : (service.found?.credential ?? '');
    try {
      if (this.#cancelled()) return;
      this.#note(address, { state: 'asking', credential });
      if ('source' in probed) deviceId = this.#commit(await this.#readAgent(address, probed, phases), phases, missing);
      if (service.found) {
        const answer = await this.#readService(address, service.found, phases, missing);
        if (answer) {
          deviceId = this.#commit(answer, phases, missing);
          for (const other of answer.others ?? []) this.#commitTold(address, { ...answer, ...other }, phases);
        }
      }
    } finally {
      if ('source' in probed) probed.source.close();
      await service.found?.opened.close();
      freeSlot();
    }
    if (!service.found) missing.push(...service.faults.filter(({ fault }) => fault === 'unauthorised' || fault === 'certificate changed' || fault === 'certificate not trusted').map(({ name, message }) => ({ part: name, reason: message })));
    const first = missing[0];
    const answeredNothing = deviceId === null;
    finish(
      answeredNothing ? { outcome: 'failed', reason: first ? `${first.part}: ${first.reason}` : 'tells nothing of itself', remedy: 'See what the service itself answers; a newer firmware may help.' }
      : first ? { outcome: 'partial', reason: `without ${missing.map(({ part }) => part).join(', ')}: ${first.reason}`, remedy: 'What was known of these parts stays, with its age. Ask again with a longer time limit, or look at the load of the device.' }
      : { outcome: 'answered', reason: '', remedy: '' },
      { deviceId: deviceId ?? known, credential, missing },
    );
  }

  async #readAgent(address: string, { source, system, credential }: Probed, phases: Record<string, number>): Promise<Answered> {
    const started = performance.now();
    const looking = this.plan.scope.defaultCommunities && !this.plan.files?.has(address);
    const [harvest, delivered] = await Promise.all([
      readDevice(source, system, { address, credential, signatures: this.plan.signatures, inFlight: inFlightPerDevice, now: () => performance.now(), cancelled: () => this.#cancelled() }),
      looking ? this.#agents.defaultCommunities(address) : [],
    ]);
    if (looking) harvest.parts.security = { state: 'whole', seconds: 0 };
    phases.collect = (performance.now() - started) / 1000;
    this.#phases.collect += phases.collect;
    const interpretStarted = performance.now();
    const report = interpret(harvest, this.plan.signatures, this.plan.siteRules);
    if (delivered.length > 0) report.device.defaultCommunities = delivered;
    this.#phases.interpret += (performance.now() - interpretStarted) / 1000;
    return { kind: 'snmp', credential, report, parts: harvest.parts };
  }

  async #readService(address: string, { kind, name, credential, opened }: FoundInterface, phases: Record<string, number>, missing: { part: string; reason: string }[]): Promise<Answered | null> {
    const started = performance.now();
    const answer = await readOrTell(opened, name, missing, { address, credential, site: (device) => siteOf(device, '', this.plan.siteRules), interpret: (harvest) => interpret(harvest, this.plan.signatures, this.plan.siteRules) });
    phases[kind] = (performance.now() - started) / 1000;
    this.#phases.collect += phases[kind];
    return answer && { kind, credential, ...answer };
  }

  #commit({ kind, credential, report, parts }: Answered, phases: Record<string, number>, missing: { part: string; reason: string }[]): number {
    const started = performance.now();
    for (const part of harvestParts) {
      const state = parts[part];
      if (state && kind === 'snmp') phases[part] = state.seconds;
    }
    const answer = { kind, report, covered: coveredParts({ parts }), asked: new Set(harvestParts.filter((part) => parts[part] !== undefined)) };
    const committed = commitReport(this.#db, this.#surveyId, this.#identities, answer, (id, way) => this.#answered.has(id, way));
    phases.commit = (phases.commit ?? 0) + (performance.now() - started) / 1000;
    this.#phases.commit += (performance.now() - started) / 1000;
    if (!this.#answered.knows(committed.deviceId)) this.#kinds.set(committed.deviceId, committed.kind);
    this.#answered.add(committed.deviceId, kind);
    this.#trail.add(report);
    if (kind === 'snmp') this.#credentialByDevice.set(committed.deviceId, credential);
    missing.push(...missingParts({ parts }).map(({ part, reason }) => ({ part: partWords[part], reason })));
    return committed.deviceId;
  }

  /** A device that a controller tells of answered through it. */
  #commitTold(by: string, answer: Answered, phases: Record<string, number>): void {
    const deviceId = this.#commit(answer, phases, []);
    this.#db.insert(told).values({ surveyId: this.#surveyId, deviceId, by }).onConflictDoNothing().run();
  }

  async #probe(address: string, known: number | null): Promise<Probed | CredentialFault[] | Outcome> {
    if (this.plan.trees?.has(address)) return [];
    const file = this.plan.files?.get(address);
    if (!file) {
      // what was learned of a server's system says nothing of its management controller's address
      const otherWay = known !== null && this.#identities.latest(known)?.interfaces?.some((own) => own.kind !== 'snmp' && own.address === address);
      return this.#agents.probe(address, known === null || otherWay ? undefined : this.#credentialByDevice.get(known));
    }
    const system = await readSystem(file);
    return system
      ? { source: file, system, credential: 'file' }
      : { outcome: 'failed', reason: 'the walk holds no system group', remedy: 'Take the walk from .1.3.6.1 or at least with the system group in it.' };
  }

  /** Redfish, RESTCONF or a controller at the address; nobody is looked for without a credential for one of them. */
  async #findService(address: string, known: number | null): Promise<{ found: FoundInterface | null; faults: InterfaceFault[] }> {
    const tree = this.plan.trees?.get(address);
    if (tree) return { found: { kind: 'redfish', name: 'Redfish', credential: 'file', opened: redfishFrom(tree) }, faults: [] };
    if (this.#logins.length === 0 || this.plan.files?.has(address)) return { found: null, faults: [] };
    const { scope } = this.plan;
    const free = await this.#services.take();
    try {
      const place = translate(address, scope.translations, scope.httpsPort, 'httpsPort');
      return await findInterface(
        { ...place, name: address },
        { timeoutMs: scope.timeoutMs * httpsPatience, connectMs: scope.timeoutMs, concurrency: requestsPerService, certificates: this.#certificates, cancelled: () => this.#cancelled() },
        this.#logins,
        (known === null ? undefined : this.#identities.latest(known)?.interfaces) ?? [],
      );
    } finally {
      free();
    }
  }

  /** Links, port kinds and attachments from everything known, also of devices that kept silent this time. */
  #conclude(): void {
    const started = performance.now();
    this.#db.update(survey).set({ phase: 'conclude' }).where(eq(survey.id, this.#surveyId)).run();
    const conclusion = conclude(readKnownEstate(this.#db, this.#surveyId));
    inTransaction(this.#db, () => writeConclusion(this.#db, this.#surveyId, conclusion));
    this.#phases.conclude = (performance.now() - started) / 1000;
  }

  #seal(startedAt: string, seconds: number): SurveySummary {
    const { summary, changes } = summarise(this.#db, {
      survey: this.#surveyId, startedAt, sealedAt: new Date(Math.max(this.#clock().getTime(), Date.parse(startedAt) + Math.round(seconds * 1000))).toISOString(), seconds,
      phases: this.#phases, kinds: [...this.#kinds.values()], found: this.#answered.devices, unreadable: this.plan.unreadable ?? [],
    });
    this.#db.update(survey)
      .set({ state: this.#cancelled() ? 'cancelled' : 'sealed', sealedAt: summary.sealedAt, asked: summary.addresses.asked, phase: 'sealed', summary: { ...summary, changes } })
      .where(eq(survey.id, this.#surveyId))
      .run();
    return summary;
  }
}

/** What an interface tells, or null with why not among what is missing. */
async function readOrTell(opened: OpenInterface, name: string, missing: { part: string; reason: string }[], context: AnswerContext): Promise<ResourceAnswer | null> {
  try {
    const answer = await opened.read(context);
    if (!answer) missing.push({ part: name, reason: 'tells nothing of itself' });
    return answer;
  } catch (error) {
    if (!(error instanceof ResourceError)) throw error;
    missing.push({ part: name, reason: error.message });
    return null;
  }
}

import { eq, max } from 'drizzle-orm';
import type { CommunityCredential, Credential, UserCredential } from '../../core/estate/credential';
import { coveredParts, harvestParts, missingParts, partWords, type Harvest } from '../../core/estate/harvest';
import { interpret, type SiteRule } from '../../core/estate/interpret';
import type { Scope } from '../../core/estate/scope';
import type { Signature } from '../../core/signatures/signature';
import { conclude, type Conclusion } from '../../core/topology/conclude';
import type { SightedDevice } from '../../core/switching/placement';
import type { DeviceFacts, NeighbourFacts, PortFacts } from '../../core/estate/facts';
import { linkKey } from '../../core/topology/links';
import { translate } from '../../core/values/translation';
import { changesBetween, latestOutcomes } from '../../store/changes';
import { commitReport, Identities, latestSealed, readSightings } from '../../store/commitReport';
import { inTransaction, isDiskFull, isStoreFault, type Db, type Store } from '../../store/database';
import { factsAsOf, writeFacts } from '../../store/facts';
import { device, survey, visit } from '../../store/schema';
import { LiveAgent } from '../snmp/liveAgent';
import { UdpTransport } from '../snmp/udpTransport';
import { inParallel, readDevice, readSystem } from '../readDevice';
import { Slots } from '../slots';
import { SourceError, type VarbindSource } from '../source';
import { outcomeOf, type Outcome } from './outcome';

export interface SurveyPlan {
  scope: Scope;
  /** as the person wrote it, for the record */
  scopeName: string;
  credentials: Credential[];
  signatures: Signature[];
  siteRules: SiteRule[];
  /** addresses whose answers come from files instead of the wire */
  files?: Map<string, VarbindSource>;
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

export interface SurveySummary {
  survey: number;
  startedAt: string;
  sealedAt: string;
  seconds: number;
  addresses: { asked: number; answered: number; silent: number };
  devices: { found: number; new: number; changed: number; replaced: number; silent: number };
  phases: { probe: number; collect: number; interpret: number; commit: number; conclude: number };
  failures: { address: string; part: string; reason: string; remedy: string }[];
}

/** Asks every address of a scope, commits each device as it comes, concludes, and seals. */
export async function runSurvey(store: Store, plan: SurveyPlan): Promise<SurveySummary> {
  return new SurveyRun(store, plan).run();
}

const inFlightPerDevice = 2;
const defaultPacketsPerSecond = 10_000;
/** Addresses that are asked whether anybody is there, at the same time; devices being read are fewer, as the scope says. */
const probesAtOnce = 4096;
/** How long a credential further up in the order may still answer once another was heard. */
const graceMs = 250;

interface Probed {
  source: VarbindSource;
  system: Harvest['system'];
  credential: string;
}
type CredentialFault = Parameters<typeof outcomeOf>[0][number];

const isSnmp = (credential: Credential): credential is CommunityCredential | UserCredential => credential.kind === 'snmp1' || credential.kind === 'snmp2c' || credential.kind === 'snmp3';

/** Of several tries that run at once: the first in order that is heard, without waiting long for those before it once one was. */
async function firstHeard(tries: Promise<Probed | null>[]): Promise<Probed | null> {
  const heard: (Probed | null | undefined)[] = tries.map(() => undefined);
  const all = Promise.all(tries.map(async (attempt, at) => {
    heard[at] = await attempt;
  }));
  const any = Promise.any(tries.map(async (attempt) => (await attempt) ?? Promise.reject(new Error('not heard'))));
  try {
    await any;
  } catch {
    await all;
    return null;
  }
  for (let at = 0; at < tries.length && heard[at] !== undefined; at++) if (heard[at]) return heard[at] ?? null;
  await Promise.race([all, new Promise((resolve) => setTimeout(resolve, graceMs))]);
  return heard.find((found) => found) ?? null;
}

class SurveyRun {
  readonly #db: Db;
  readonly #phases = { probe: 0, collect: 0, interpret: 0, commit: 0, conclude: 0 };
  readonly #kinds = new Map<number, 'new' | 'known' | 'replaced'>();
  readonly #answered = new Set<number>();
  readonly #clock: () => Date;
  #surveyId = 0;
  #seq = 0;
  readonly #transport: UdpTransport;
  readonly #readers: Slots;
  #identities!: Identities;
  #credentialByDevice = new Map<number, string>();

  constructor(store: Store, readonly plan: SurveyPlan) {
    this.#db = store.db;
    this.#clock = plan.clock ?? (() => new Date());
    this.#transport = new UdpTransport({ packetsPerSecond: plan.packetsPerSecond ?? defaultPacketsPerSecond });
    this.#readers = new Slots(plan.scope.concurrency);
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
      await inParallel(open, Math.max(probesAtOnce, scope.concurrency), (address) => this.#visit(address));
      this.#conclude();
      return this.#seal(startedAt, (performance.now() - started) / 1000);
    } catch (error) {
      this.#markFailed();
      throw error;
    } finally {
      this.#transport.close();
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
        if (known.deviceId !== null && (known.outcome === 'answered' || known.outcome === 'partial')) this.#answered.add(known.deviceId);
      }
    } else {
      const { addresses: _addresses, ...shown } = scope;
      this.#surveyId = this.#db.insert(survey).values({ scopeName, scope: shown, state: 'running', startedAt: this.#clock().toISOString(), asked: scope.addresses.length, phase: 'collect' }).returning({ id: survey.id }).get().id;
    }
    this.#identities = new Identities(this.#db, this.#surveyId);
    for (const { id, credential } of this.#db.select().from(device).all()) if (credential) this.#credentialByDevice.set(id, credential);
    this.plan.onStarted?.(this.#surveyId);
    return this.#db.select().from(survey).where(eq(survey.id, this.#surveyId)).get()?.startedAt ?? '';
  }

  #note(address: string, row: Partial<typeof visit.$inferInsert>): void {
    const seq = ++this.#seq;
    const values = { surveyId: this.#surveyId, address, state: 'asking' as const, ...row, seq };
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

  /** From first packet to committed device. */
  async #ask(address: string): Promise<void> {
    const started = performance.now();
    const known = this.#identities.byAddress(address);
    if (this.#cancelled()) return;
    const phases: Record<string, number> = {};
    const finish = (outcome: Outcome, more: Partial<typeof visit.$inferInsert> = {}) =>
      this.#note(address, { state: 'done', ...outcome, phases, seconds: Math.round(performance.now() - started), ...more });

    const probed = await this.#probe(address, known);
    phases.probe = (performance.now() - started) / 1000;
    this.#phases.probe += phases.probe;
    if ('outcome' in probed) {
      if (!this.#cancelled() || probed.outcome !== 'silent') finish(probed, { deviceId: known });
      return;
    }
    const freeSlot = await this.#readers.take();
    if (this.#cancelled()) return freeSlot();
    this.#note(address, { state: 'asking', credential: probed.credential });
    const collectStarted = performance.now();
    let harvest: Harvest;
    try {
      harvest = await readDevice(probed.source, probed.system, {
        address, credential: probed.credential, signatures: this.plan.signatures, inFlight: inFlightPerDevice,
        now: () => performance.now(), cancelled: () => this.#cancelled(),
      });
    } finally {
      probed.source.close();
      freeSlot();
    }
    phases.collect = (performance.now() - collectStarted) / 1000;
    this.#phases.collect += phases.collect;
    for (const part of harvestParts) {
      const state = harvest.parts[part];
      if (state) phases[part] = state.seconds;
    }

    const interpretStarted = performance.now();
    const report = interpret(harvest, this.plan.signatures, this.plan.siteRules);
    const commitStarted = performance.now();
    this.#phases.interpret += (commitStarted - interpretStarted) / 1000;
    const asked = new Set(harvestParts.filter((part) => harvest.parts[part] !== undefined));
    const committed = commitReport(this.#db, this.#surveyId, this.#identities, report, coveredParts(harvest), asked, (id) => this.#answered.has(id));
    this.#phases.commit += (performance.now() - commitStarted) / 1000;
    phases.commit = (performance.now() - commitStarted) / 1000;
    if (!this.#answered.has(committed.deviceId)) this.#kinds.set(committed.deviceId, committed.kind);
    this.#answered.add(committed.deviceId);
    this.#credentialByDevice.set(committed.deviceId, probed.credential);

    const missing = missingParts(harvest).map(({ part, reason }) => ({ part: partWords[part], reason }));
    const first = missing[0];
    finish(
      first
        ? { outcome: 'partial', reason: `without ${missing.map(({ part }) => part).join(', ')}: ${first.reason}`, remedy: 'What was known of these parts stays, with its age. Ask again with a longer time limit, or look at the load of the device.' }
        : { outcome: 'answered', reason: '', remedy: '' },
      { deviceId: committed.deviceId, credential: probed.credential, missing },
    );
  }

  /** The credential that worked last time alone; else all at once, and of those that are heard the first in the scope's order. */
  async #probe(address: string, known: number | null): Promise<Probed | Outcome> {
    const file = this.plan.files?.get(address);
    if (file) {
      const system = await readSystem(file);
      return system
        ? { source: file, system, credential: 'file' }
        : { outcome: 'failed', reason: 'the walk holds no system group', remedy: 'Take the walk from .1.3.6.1 or at least with the system group in it.' };
    }
    const usable = this.plan.credentials.filter(isSnmp);
    const remembered = known === null ? undefined : this.#credentialByDevice.get(known);
    const first = usable.filter(({ name }) => name === remembered);
    const rest = usable.filter(({ name }) => name !== remembered);
    const faults: CredentialFault[] = [];
    for (const group of [first, rest]) {
      if (group.length === 0 || this.#cancelled()) continue;
      const heard = await firstHeard(group.map((credential) => this.#try(address, credential, faults)));
      if (heard) return heard;
    }
    return outcomeOf(faults);
  }

  async #try(address: string, credential: CommunityCredential | UserCredential, faults: CredentialFault[]): Promise<Probed | null> {
    const { scope } = this.plan;
    const place = translate(address, scope.translations, scope.port);
    const source = new LiveAgent(this.#transport, { ...place, timeoutMs: scope.timeoutMs, retries: scope.retries }, credential);
    try {
      const system = await readSystem(source);
      if (system) return { source, system, credential: credential.name };
      faults.push({ credential: credential.name, fault: 'failed', message: 'answers, but tells nothing of itself: the system group is hidden' });
    } catch (error) {
      if (!(error instanceof SourceError)) throw error;
      faults.push({ credential: credential.name, fault: error.fault, message: error.message });
    }
    return null;
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
    const db = this.#db;
    const previous = latestSealed(db);
    const visits = db.select().from(visit).where(eq(visit.surveyId, this.#surveyId)).all();
    const answered = visits.filter(({ outcome }) => outcome === 'answered' || outcome === 'partial').length;
    const changes = previous > 0 ? changesBetween(db, previous, this.#surveyId) : [];
    const changedDevices = new Set(changes.filter(({ kind, thing }) => kind === 'changed' && thing !== 'endpoint' && thing !== 'link').map(({ deviceId }) => deviceId));
    const kinds = [...this.#kinds.values()];
    const outcomes = latestOutcomes(db, this.#surveyId);
    const sealedAt = new Date(Math.max(this.#clock().getTime(), Date.parse(startedAt) + Math.round(seconds * 1000))).toISOString();
    const summary: SurveySummary = {
      survey: this.#surveyId,
      startedAt,
      sealedAt,
      seconds: rounded(seconds),
      addresses: { asked: visits.length, answered, silent: visits.filter(({ outcome }) => outcome === 'silent').length },
      devices: {
        found: this.#answered.size,
        new: kinds.filter((kind) => kind === 'new').length,
        changed: changedDevices.size,
        replaced: kinds.filter((kind) => kind === 'replaced').length,
        silent: [...outcomes.values()].filter(({ outcome, surveyId }) => outcome === 'silent' && surveyId === this.#surveyId).length,
      },
      phases: Object.fromEntries(Object.entries(this.#phases).map(([name, value]) => [name, rounded(value)])) as SurveySummary['phases'],
      failures: [
        ...(this.plan.unreadable ?? []).map(({ file, reason }) => ({ address: file, part: 'file', reason, remedy: 'Correct the file and survey again.' })),
        ...visits.flatMap(({ address, outcome, reason, remedy, missing, deviceId }) => {
          if (outcome === 'partial') return ((missing as { part: string; reason: string }[] | null) ?? []).map((part) => ({ address, part: part.part, reason: part.reason, remedy: remedy ?? '' }));
          if (outcome === 'refused' || outcome === 'failed' || (outcome === 'silent' && deviceId !== null)) return [{ address, part: 'probe', reason: reason ?? '', remedy: remedy ?? '' }];
          return [];
        }),
      ],
    };
    db.update(survey)
      .set({ state: this.#cancelled() ? 'cancelled' : 'sealed', sealedAt, asked: visits.length, phase: 'sealed', summary: { ...summary, changes: changes.length } })
      .where(eq(survey.id, this.#surveyId))
      .run();
    return summary;
  }
}

const rounded = (seconds: number) => Math.round(seconds * 1000) / 1000;

/** All devices with the facts that conclusions need, as of a survey. */
export function readKnownEstate(db: Db, surveyId: number): SightedDevice[] {
  const ports = byDevice(factsAsOf<PortFacts>(db, 'port', surveyId));
  const neighbours = byDevice(factsAsOf<NeighbourFacts>(db, 'neighbour', surveyId));
  const sightings = readSightings(db);
  const outcomes = latestOutcomes(db, surveyId);
  return factsAsOf<DeviceFacts>(db, 'device', surveyId).map(({ deviceId, content }) => ({
    id: deviceId,
    device: content,
    ports: ports.get(deviceId) ?? [],
    neighbours: neighbours.get(deviceId) ?? [],
    answered: outcomes.get(deviceId)?.outcome !== 'silent',
    sightings: sightings.get(deviceId) ?? { forwarding: [], addresses: [] },
  }));
}

function byDevice<T>(rows: { deviceId: number; content: T }[]): Map<number, T[]> {
  const found = new Map<number, T[]>();
  for (const { deviceId, content } of rows) {
    const list = found.get(deviceId);
    if (list) list.push(content);
    else found.set(deviceId, [content]);
  }
  return found;
}

function writeConclusion(db: Db, surveyId: number, { links, attachments, portKinds }: Conclusion): void {
  writeFacts(db, 'link', surveyId, 0, links.map((link) => ({ key: linkKey(link.a, link.b), content: link })), true);
  writeFacts(db, 'attachment', surveyId, 0, attachments.map((row) => ({ key: row.mac, content: row })), true);
  for (const [deviceId, kinds] of portKinds) writeFacts(db, 'portKind', surveyId, deviceId, [{ key: 'kinds', content: Object.fromEntries(kinds) }], true);
}

import { eq, max } from 'drizzle-orm';
import type { Credential } from '../../core/estate/credential';
import { interfaceKinds } from '../../core/estate/facts';
import { ownWays } from '../../core/estate/ways';
import type { Scope } from '../../core/estate/scope';
import type { AddressHint, CollectedAnswer, CollectedVisit } from '../../core/estate/visit';
import type { Signature } from '../../core/signatures/signature';
import type { Unlisted } from '../../core/switching/unlisted';
import { PinnedCertificates } from '../../store/certificates';
import { pinnedFor } from '../../store/collectors';
import { addHeard } from '../../store/sightings';
import { commitReport } from '../../store/commitReport';
import { Identities } from '../../store/identities';
import { checkpointLater, inTransaction, type Db, type Store } from '../../store/base/database';
import { isDiskFull, isStoreFault } from '../../store/base/storeFault';
import { addressesOfGroup } from '../../store/deviceFilter';
import { readingsWanted } from '../../store/readingRules';
import { device, displaced, survey, told, visit } from '../../store/base/schema';
import { forgetOrder, visitNotes, type VisitNote } from '../../store/base/visits';
import type { ResourceSource } from '../https/resourceSource';
import type { VarbindSource } from '../source';
import {
  AddressReader,
  brokenReading,
  defaultPacketsPerSecond,
  outcomeOfAnswers,
  partsOf,
  type ListeningAsk,
} from './addressReader';
import { AnsweredDevices } from './answeredDevices';
import { CollectorAsking, LateAsking, type Asking } from './collectorAsking';
import { unlistedOf, writeConclusion } from './conclusion';
import { NeighbourTrail } from './neighbourTrail';
import { summarise, type SurveySummary } from './surveySummary';
import { concludeBeside } from './threads/concludeBeside';
import { ReaderThreads, threadsFor } from './threads/readerThreads';

export interface SurveyPlan {
  scope: Scope;
  /** as the person wrote it, for the record */
  scopeName: string;
  /** which of the saved scopes it is; none of files, nor of what is asked from the command line */
  scopeId?: number;
  credentials: Credential[];
  signatures: Signature[];
  /** addresses whose answers come from files instead of the wire: walks, and trees of Redfish resources */
  files?: Map<string, VarbindSource>;
  trees?: Map<string, ResourceSource>;
  /** files that could not be read: told as failures */
  unreadable?: { file: string; reason: string }[];
  /** a survey that was broken off and is to be finished */
  resume?: number;
  /** number of a survey that was sealed before all that collectors had for it arrived: what came late is taken, nobody is asked */
  delivered?: number;
  /** wall clock; the demo tells a story with it */
  clock?: () => Date;
  cancelled?: () => boolean;
  onStarted?: (surveyId: number) => void;
  /** how many addresses are asked at once, where not as the scope says */
  atOnce?: number;
  /** reads and concludes in this thread however much there is: where one survey follows the other, it is warm already */
  readHere?: boolean;
  /** all addresses together; the default is polite to a network of any size */
  packetsPerSecond?: number;
}

/** More machines that one switch does not list are not a few rows that it has forgotten: its table is not to be had. */
const mostAskedAgain = 400;

/** Where the seconds of a visit's phases are counted in those of the survey. */
const surveyPhases = [
  ['probe', ['probe']],
  ['collect', ['collect', ...interfaceKinds]],
  ['interpret', ['interpret']],
] as const;

/** Asks every address of a scope, commits each device as it comes, concludes, and seals. */
export async function runSurvey(store: Store, plan: SurveyPlan): Promise<SurveySummary> {
  return new SurveyRun(store, plan).run();
}

class SurveyRun {
  readonly #db: Db;
  readonly #phases = { probe: 0, collect: 0, interpret: 0, commit: 0, conclude: 0 };
  readonly #kinds = new Map<number, 'new' | 'known' | 'replaced'>();
  readonly #answered = new AnsweredDevices();
  readonly #clock: () => Date;
  readonly #trail = new NeighbourTrail();
  readonly #done = new Set<string>();
  #surveyId = 0;
  #seq = 0;
  #notes: ReturnType<typeof visitNotes> | null = null;
  #identities!: Identities;
  #readingsWanted: ReturnType<typeof readingsWanted> | null = null;
  #credentialByDevice = new Map<number, string>();
  /** devices that a controller tells of: they do not answer its kind of questions themselves */
  #toldOf = new Set<number>();

  /** agents that answered in this survey, and how */
  readonly #agents = new Map<number, Pick<ListeningAsk, 'address' | 'credential' | 'contextOf'>>();

  #askedAgain: SurveySummary['askedAgain'];

  readonly #store: Store;
  #isOver = false;
  #ofGroup: Set<string> | null = null;

  constructor(
    store: Store,
    readonly plan: SurveyPlan,
  ) {
    this.#store = store;
    this.#db = store.db;
    this.#clock = plan.clock ?? (() => new Date());
  }

  /** The addresses that are asked: all of the scope, or those of the devices in its group as they are known. */
  get #asked(): string[] {
    const { addresses, group = '' } = this.plan.scope;
    if (group === '') return addresses;
    this.#ofGroup ??= addressesOfGroup(this.#db, group);
    const wanted = this.#ofGroup;
    return addresses.filter((address) => wanted.has(address));
  }

  /** Once cancelled it stays so: what is still under way asks long after the survey was sealed. */
  #cancelled(): boolean {
    this.#isOver ||= this.plan.cancelled?.() ?? false;
    return this.#isOver;
  }

  async run(): Promise<SurveySummary> {
    const started = performance.now();
    const startedAt = this.#begin();
    const { scope } = this.plan;
    const addresses = this.#asked;
    const asking = this.#asking();
    const tidy = checkpointLater(this.#store);
    try {
      await asking.wake(scope.wake);
      await asking.ask(addresses.filter((address) => !this.#done.has(address)));
      await this.#followNeighbours(asking, new Set([...scope.addresses, ...this.#done]));
      await this.#listenAgain(asking);
      // what was needed to ask takes no memory from what is needed to conclude
      asking.close();
      await this.#conclude();
      return this.#seal(startedAt, (performance.now() - started) / 1000);
    } catch (error) {
      this.#markFailed();
      throw error;
    } finally {
      asking.close();
      tidy();
    }
  }

  /** Who asks: this machine, or the collectors that the scope names. */
  #asking(): Asking {
    const { plan } = this;
    const cancelled = () => this.#cancelled();
    const hintOf = (address: string) => this.#hintOf(address);
    const take = (visit: CollectedVisit) => this.#take(visit);
    const certificates = new PinnedCertificates(this.#db, this.#clock);
    if (plan.delivered !== undefined) return new LateAsking(this.#db, plan.delivered, certificates, take);
    if (plan.scope.collectors.length > 0)
      return new CollectorAsking(this.#db, {
        surveyId: this.#surveyId,
        scope: plan.scope,
        certificates,
        take,
        cancelled,
        isDone: (address) => this.#done.has(address),
      });
    const reader = new AddressReader({
      scope: plan.scope,
      credentials: plan.credentials,
      signatures: plan.signatures,
      certificates,
      cancelled,
      hintOf,
      ...(plan.files && { files: plan.files }),
      ...(plan.trees && { trees: plan.trees }),
      ...(plan.packetsPerSecond !== undefined && { packetsPerSecond: plan.packetsPerSecond }),
      ...(plan.atOnce !== undefined && { atOnce: plan.atOnce }),
      onReading: (address, credential) => this.#note(address, { state: 'asking', credential }),
    });
    const atHand = new Set([...(plan.files?.keys() ?? []), ...(plan.trees?.keys() ?? [])]);
    const threads = this.#readerThreads(hintOf, certificates);
    return {
      wake: (addresses) => reader.wake(addresses),
      listenAgain: (asks, take) => reader.listenAgain(asks, take),
      ask: async (addresses) => {
        if (!threads) return reader.readAll(addresses, take);
        await reader.readAll(
          addresses.filter((address) => atHand.has(address)),
          take,
        );
        await threads.readAll(
          addresses.filter((address) => !atHand.has(address)),
          take,
        );
      },
      close: () => {
        reader.close();
        threads?.close();
      },
    };
  }

  /** Null where there is too little to read for threads of their own. */
  #readerThreads(hintOf: (address: string) => AddressHint, certificates: PinnedCertificates): ReaderThreads | null {
    const { plan } = this;
    const count = plan.readHere
      ? 0
      : threadsFor(plan.scope.addresses.length - (plan.files?.size ?? 0) - (plan.trees?.size ?? 0));
    if (count === 0) return null;
    return new ReaderThreads(
      {
        scope: plan.scope,
        credentials: plan.credentials,
        signatures: plan.signatures,
        packetsPerSecond: plan.packetsPerSecond ?? defaultPacketsPerSecond,
        ...(plan.atOnce !== undefined && { atOnce: plan.atOnce }),
        hintOf,
        cancelled: () => this.#cancelled(),
        pinnedFor: (addresses) => pinnedFor(this.#db, addresses),
        seen: ({ address, port, fingerprint, subject, as }) =>
          as === 'pinned'
            ? certificates.pin(address, port, fingerprint, subject)
            : certificates.offered(address, port, fingerprint),
        onReading: (address, credential) => this.#note(address, { state: 'asking', credential }),
      },
      count,
    );
  }

  /** From what answered on to the management addresses of its neighbours, as many steps as the scope says. */
  async #followNeighbours(asking: Asking, asked: Set<string>): Promise<void> {
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
      await asking.ask(next);
    }
  }

  /**
   * Machines that their own switch does not list are known to be on it and on no port: it is asked for them once more. What it then says stands beside what it
   * said before.
   */
  async #listenAgain(asking: Asking): Promise<void> {
    if (!asking.listenAgain || this.#agents.size === 0 || this.#cancelled()) return;
    const started = performance.now();
    const missed = new Map<number, Unlisted[]>();
    await concludeBeside(this.#store, this.#surveyId, this.plan.readHere ?? false, ({ attachments }) => {
      for (const row of unlistedOf(attachments)) {
        const known = missed.get(row.deviceId);
        if (known && known.length < mostAskedAgain) known.push(row);
        else if (!known) missed.set(row.deviceId, [row]);
      }
    });
    const asks = [...missed].flatMap(([deviceId, machines]): ListeningAsk[] => {
      const agent = this.#agents.get(deviceId);
      return agent ? [{ deviceId, machines, ...agent }] : [];
    });
    if (asks.length === 0) return;
    this.#askedAgain = { machines: asks.reduce((count, { machines }) => count + machines.length, 0), heard: 0 };
    const counted = this.#askedAgain;
    await asking.listenAgain(asks, ({ deviceId }, heard) => {
      counted.heard += heard.length;
      inTransaction(this.#db, () => addHeard(this.#db, this.#surveyId, deviceId, heard));
    });
    this.#phases.collect += (performance.now() - started) / 1000;
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
      this.#seq =
        this.#db
          .select({ seq: max(visit.seq) })
          .from(visit)
          .where(eq(visit.surveyId, resume))
          .get()?.seq ?? 0;
      for (const known of this.#db.select().from(visit).where(eq(visit.surveyId, resume)).all()) {
        if (known.state === 'done') this.#done.add(known.address);
        if (known.deviceId !== null && (known.outcome === 'answered' || known.outcome === 'partial'))
          this.#answered.add(known.deviceId, 'snmp');
      }
    } else {
      const { addresses: _addresses, wake: _wake, ...shown } = scope;
      this.#surveyId = this.#db
        .insert(survey)
        .values({
          scopeName,
          scopeId: this.plan.scopeId ?? null,
          scope: shown,
          state: 'running',
          startedAt: this.#clock().toISOString(),
          asked: this.#asked.length,
          phase: 'collect',
        })
        .returning({ id: survey.id })
        .get().id;
    }
    forgetOrder(this.#db, this.#surveyId);
    this.#identities = new Identities(this.#db, this.#surveyId);
    this.#toldOf = new Set(
      this.#db
        .selectDistinct({ deviceId: told.deviceId })
        .from(told)
        .all()
        .map(({ deviceId }) => deviceId),
    );
    for (const { id, credential } of this.#db.select().from(device).all())
      if (credential) this.#credentialByDevice.set(id, credential);
    this.plan.onStarted?.(this.#surveyId);
    return this.#db.select().from(survey).where(eq(survey.id, this.#surveyId)).get()?.startedAt ?? '';
  }

  #note(address: string, note: VisitNote): void {
    this.#notes ??= visitNotes(this.#db, this.#surveyId);
    this.#notes(address, ++this.#seq, { path: this.#trail.pathTo(address), ...note });
  }

  #hintOf(address: string): AddressHint {
    const known = this.#identities.byAddress(address);
    if (known === null) return {};
    const credential = this.#credentialByDevice.get(known);
    const latest = this.#identities.latest(known);
    this.#readingsWanted ??= readingsWanted(this.#db);
    const readings = latest ? this.#readingsWanted(known, latest) : [];
    return {
      ...(credential !== undefined && { credential }),
      ...(latest?.interfaces && { interfaces: ownWays(latest.interfaces, this.#toldOf.has(known)) }),
      ...(readings.length > 0 && { readings }),
    };
  }

  /** Writes down what was collected at one address. What goes wrong with it is its outcome, never the survey's; only a store that cannot be written to ends the survey. */
  #take(visit: CollectedVisit): void {
    inTransaction(this.#db, () => this.#write(visit));
  }

  #write(visit: CollectedVisit): void {
    const { address, phases } = visit;
    // two collectors may both have asked it: the first answer counts
    if (this.#done.has(address)) return;
    const known = this.#identities.byAddress(address);
    for (const [phase, names] of surveyPhases) for (const name of names) this.#phases[phase] += phases[name] ?? 0;
    let deviceId: number | null = null;
    let outcome = visit.outcome ?? outcomeOfAnswers(visit);
    try {
      for (const answer of visit.answers) {
        const committed = this.#commit(answer, phases);
        if (answer.told)
          this.#db
            .insert(told)
            .values({ surveyId: this.#surveyId, deviceId: committed, by: address })
            .onConflictDoNothing()
            .run();
        else deviceId = committed;
      }
    } catch (error) {
      if (isStoreFault(error)) throw error;
      outcome = brokenReading(address, error);
    }
    if (deviceId !== null && known !== null && known !== deviceId) this.#displace(known, address, deviceId);
    this.#note(address, {
      state: 'done',
      ...outcome,
      phases,
      milliseconds: visit.milliseconds,
      deviceId: deviceId ?? known,
      ...(visit.credential !== '' && { credential: visit.credential, missing: visit.missing }),
    });
    this.#done.add(address);
  }

  /** Whoever was known at an address where another device answers is silent there; if it answers elsewhere, that counts. */
  #displace(deviceId: number, address: string, by: number): void {
    if (this.#identities.latest(deviceId)?.address !== address) return;
    this.#db.insert(displaced).values({ surveyId: this.#surveyId, deviceId, address, by }).onConflictDoNothing().run();
  }

  #commit(answer: CollectedAnswer, phases: Record<string, number>): number {
    const started = performance.now();
    const { kind, credential, report, packedSightings } = answer;
    const committed = commitReport(
      this.#db,
      this.#surveyId,
      this.#identities,
      { kind, report, packedSightings, ...partsOf(answer) },
      (id, way) => this.#answered.has(id, way),
    );
    const seconds = (performance.now() - started) / 1000;
    phases.commit = (phases.commit ?? 0) + seconds;
    this.#phases.commit += seconds;
    if (!this.#answered.knows(committed.deviceId)) this.#kinds.set(committed.deviceId, committed.kind);
    this.#answered.add(committed.deviceId, kind);
    this.#trail.add(report);
    if (kind === 'snmp') {
      this.#credentialByDevice.set(committed.deviceId, credential);
      const { contexts } = this.plan.signatures.find(({ id }) => id === report.device.signature) ?? {};
      const { address } = report.device;
      if (!this.plan.files?.has(address))
        this.#agents.set(committed.deviceId, {
          address,
          credential,
          contextOf: contexts?.of === 'vlans' ? (vlan) => contexts.name.replaceAll('{vlan}', String(vlan)) : null,
        });
    }
    return committed.deviceId;
  }

  /** Links, port kinds and attachments from everything known, also of devices that kept silent this time. */
  async #conclude(): Promise<void> {
    const started = performance.now();
    this.#db.update(survey).set({ phase: 'conclude' }).where(eq(survey.id, this.#surveyId)).run();
    await concludeBeside(this.#store, this.#surveyId, this.plan.readHere ?? false, (conclusion) =>
      inTransaction(this.#db, () => writeConclusion(this.#db, this.#surveyId, conclusion)),
    );
    this.#phases.conclude = (performance.now() - started) / 1000;
  }

  #seal(startedAt: string, seconds: number): SurveySummary {
    const { summary, changes } = summarise(this.#db, {
      survey: this.#surveyId,
      startedAt,
      sealedAt: new Date(
        Math.max(this.#clock().getTime(), Date.parse(startedAt) + Math.round(seconds * 1000)),
      ).toISOString(),
      seconds,
      phases: this.#phases,
      kinds: [...this.#kinds.values()],
      found: this.#answered.devices,
      unreadable: this.plan.unreadable ?? [],
      ...(this.#askedAgain && { askedAgain: this.#askedAgain }),
    });
    this.#db
      .update(survey)
      .set({
        state: this.#cancelled() ? 'cancelled' : 'sealed',
        sealedAt: summary.sealedAt,
        asked: summary.addresses.asked,
        phase: 'sealed',
        summary: { ...summary, changes },
      })
      .where(eq(survey.id, this.#surveyId))
      .run();
    return summary;
  }
}

import { and, asc, eq, gt, inArray, lt, ne, or, sql } from 'drizzle-orm';
import type { CollectorLoad } from '../core/collectors/protocol';
import type { DeviceFacts } from '../core/estate/facts';
import type { AddressHint } from '../core/estate/visit';
import { inTransaction, type Db } from './base/database';
import { factsAsOf } from './base/facts';
import { lastJob } from './jobs';
import { readingsWanted } from './readingRules';
import { collector, delivery, device, pinnedCertificate, share, survey, token, visit } from './base/schema';
import { listScopes } from './scopes';

/** A collector that was not heard for so long has lost what it had in hand: another one gets it. */
export const silentAfterMs = 15_000;

export interface KnownCollector {
  id: number;
  name: string;
  addedAt: string;
  /** null where it never reported */
  heard: { at: string; version: string; load: CollectorLoad; fault: string } | null;
  /** names of scopes it is to ask */
  scopes: string[];
  /** addresses of surveys that run, which it was given and has not delivered */
  inHand: number;
}

/** Whoever has a collector's token, heard of or not. */
export function listCollectors(db: Db): KnownCollector[] {
  const heard = new Map(
    db
      .select()
      .from(collector)
      .all()
      .map((row) => [row.name, row]),
  );
  const scopes = listScopes(db).map(({ scope }) => scope);
  const leased = db.select().from(share).where(eq(share.state, 'leased')).all();
  return db
    .select()
    .from(token)
    .where(eq(token.role, 'collector'))
    .orderBy(asc(token.name))
    .all()
    .map(({ id, name, createdAt }) => {
      const row = heard.get(name);
      return {
        id,
        name,
        addedAt: createdAt,
        heard: row
          ? { at: row.lastHeardAt, version: row.version, load: row.load as CollectorLoad, fault: row.fault }
          : null,
        scopes: scopes.filter(({ collectors = [] }) => collectors.includes(name)).map((scope) => scope.name),
        inHand: leased
          .filter((own) => own.collector === name)
          .reduce((sum, own) => sum + remainingOf(db, own).length, 0),
      };
    });
}

/** Takes the token away: from now on it is nobody. Its shares are free for others. @returns its name */
export function removeCollector(db: Db, id: number): string | null {
  return inTransaction(db, () => {
    const row = db
      .delete(token)
      .where(and(eq(token.id, id), eq(token.role, 'collector')))
      .returning({ name: token.name })
      .get();
    if (!row) return null;
    db.delete(collector).where(eq(collector.name, row.name)).run();
    keepOnly(db, row.name, []);
    return row.name;
  });
}

export function noteHeard(
  db: Db,
  name: string,
  { version, load, fault = '' }: { version: string; load: CollectorLoad; fault?: string },
  now: Date,
): void {
  const values = { version, load, fault, lastHeardAt: now.toISOString() };
  db.insert(collector)
    .values({ name, ...values })
    .onConflictDoUpdate({ target: collector.name, set: values })
    .run();
}

/** When any of these that may work was last heard, in milliseconds since the epoch; 0 for never. */
export function lastHeard(db: Db, names: string[]): number {
  return Math.max(
    0,
    ...db
      .select()
      .from(collector)
      .where(and(inArray(collector.name, names), eq(collector.fault, '')))
      .all()
      .map(({ lastHeardAt }) => Date.parse(lastHeardAt)),
  );
}

export type Share = typeof share.$inferSelect;

export function addShares(db: Db, surveyId: number, kind: Share['kind'], lists: string[][]): void {
  inTransaction(db, () => {
    for (const addresses of lists) db.insert(share).values({ surveyId, kind, addresses, state: 'open' }).run();
  });
}

export function sharesOf(db: Db, surveyId: number): Share[] {
  return db.select().from(share).where(eq(share.surveyId, surveyId)).orderBy(asc(share.id)).all();
}

/** Ends the shares of a survey; those that nobody delivered are kept, so that what comes late can be told from what was never asked for. */
export function endShares(db: Db, surveyId: number): void {
  db.delete(share)
    .where(and(eq(share.surveyId, surveyId), eq(share.state, 'done')))
    .run();
}

/** Frees what a collector held and does not name any more: it was started again, or never heard of it. */
export function keepOnly(db: Db, name: string, inHand: number[]): void {
  for (const { id } of db
    .select({ id: share.id })
    .from(share)
    .where(and(eq(share.state, 'leased'), eq(share.collector, name)))
    .all()) {
    if (!inHand.includes(id)) db.update(share).set({ state: 'open', collector: null }).where(eq(share.id, id)).run();
  }
}

/** Frees what collectors hold that were not heard since a moment. */
export function freeSilent(db: Db, surveyId: number, before: Date): void {
  const silent = db
    .select({ name: collector.name })
    .from(collector)
    .where(lt(collector.lastHeardAt, before.toISOString()))
    .all()
    .map(({ name }) => name);
  if (silent.length > 0)
    db.update(share)
      .set({ state: 'open', collector: null })
      .where(and(eq(share.surveyId, surveyId), eq(share.state, 'leased'), inArray(share.collector, silent)))
      .run();
}

/** The next share for a collector, with what is left of it. Null where there is nothing for it to do. */
export function leaseShare(db: Db, name: string): { share: Share; scopeId: number } | null {
  return inTransaction(db, () => {
    const open = db
      .select()
      .from(share)
      .innerJoin(survey, eq(survey.id, share.surveyId))
      .where(and(eq(share.state, 'open'), eq(survey.state, 'running')))
      .orderBy(asc(share.id))
      .all();
    for (const { share: next } of open) {
      const job = lastJob(db, next.surveyId);
      const scopeId = (job?.body as { scopeId?: number } | undefined)?.scopeId;
      if (
        scopeId === undefined ||
        job?.cancelRequested ||
        !listScopes(db)
          .find(({ id }) => id === scopeId)
          ?.scope.collectors?.includes(name)
      )
        continue;
      const addresses = remainingOf(db, next);
      if (addresses.length === 0) {
        db.update(share).set({ state: 'done' }).where(eq(share.id, next.id)).run();
        continue;
      }
      db.update(share).set({ state: 'leased', collector: name }).where(eq(share.id, next.id)).run();
      return { share: { ...next, addresses }, scopeId };
    }
    return null;
  });
}

/** What is known of addresses that a collector is to ask: the credential that worked last, the ways in. */
export function hintsFor(db: Db, addresses: string[]): Record<string, AddressHint> {
  const credentials = new Map(
    db
      .select()
      .from(device)
      .all()
      .map(({ id, credential }) => [id, credential]),
  );
  const wanted = new Set(addresses);
  const hints: Record<string, AddressHint> = {};
  const readingsOf = readingsWanted(db);
  for (const { deviceId, content } of factsAsOf<DeviceFacts>(db, 'device', latestSurvey(db))) {
    const { address, addresses: others, interfaces } = content;
    const credential = credentials.get(deviceId);
    for (const own of [address, ...others]) {
      if (!wanted.has(own)) continue;
      const readings = readingsOf(deviceId, content);
      hints[own] = {
        ...(credential && { credential }),
        ...(interfaces && { interfaces }),
        ...(readings.length > 0 && { readings }),
      };
    }
  }
  return hints;
}

const latestSurvey = (db: Db) =>
  db
    .select({ id: sql<number>`coalesce(max(${survey.id}), 0)` })
    .from(survey)
    .get()?.id ?? 0;

/** Certificates that are pinned for addresses. */
export function pinnedFor(db: Db, addresses: string[]): { address: string; port: number; fingerprint: string }[] {
  const wanted = new Set(addresses);
  return db
    .select({
      address: pinnedCertificate.address,
      port: pinnedCertificate.port,
      fingerprint: pinnedCertificate.fingerprint,
    })
    .from(pinnedCertificate)
    .all()
    .filter(({ address }) => wanted.has(address));
}

/** Addresses of a share that nobody delivered yet. */
function remainingOf(db: Db, { surveyId, kind, addresses }: Share): string[] {
  if (kind === 'wake') return addresses;
  const done = new Set(
    db
      .select({ address: visit.address })
      .from(visit)
      .where(and(eq(visit.surveyId, surveyId), eq(visit.state, 'done')))
      .all()
      .map(({ address }) => address),
  );
  for (const row of db
    .select({ addresses: delivery.addresses })
    .from(delivery)
    .where(and(eq(delivery.surveyId, surveyId), eq(delivery.state, 'waiting')))
    .all())
    for (const address of row.addresses) done.add(address);
  return addresses.filter((address) => !done.has(address));
}

/** Surveys among these that are over. */
export function surveysOver(db: Db, ids: number[]): number[] {
  if (ids.length === 0) return [];
  return db
    .select({ id: survey.id })
    .from(survey)
    .where(and(inArray(survey.id, ids), ne(survey.state, 'running')))
    .all()
    .map(({ id }) => id);
}

/** Surveys of the shares that a collector says it has in hand. */
export function surveysOfShares(db: Db, ids: number[]): number[] {
  if (ids.length === 0) return [];
  return [
    ...new Set(
      db
        .select({ surveyId: share.surveyId })
        .from(share)
        .where(inArray(share.id, ids))
        .all()
        .map(({ surveyId }) => surveyId),
    ),
  ];
}

export interface Arrival {
  id: string;
  survey: number;
  share: number;
  last: boolean;
  addresses: string[];
  body: Buffer;
}

/**
 * Keeps a delivery until its survey takes it. Whatever came before under the same id is left as it is: the collector did not hear that it had arrived.
 * `over`: the survey was cancelled, nobody wants it any more. `unasked`: there is no such survey, or an address that it never was to ask.
 */
export function storeDelivery(
  db: Db,
  name: string,
  { id, survey: surveyId, share: shareId, last, addresses, body }: Arrival,
  now: Date,
): 'stored' | 'known' | 'over' | 'unasked' {
  return inTransaction(db, () => {
    if (db.select({ id: delivery.id }).from(delivery).where(eq(delivery.id, id)).get()) return 'known';
    const found = db.select({ state: survey.state }).from(survey).where(eq(survey.id, surveyId)).get();
    if (!found) return 'unasked';
    const own = db
      .select()
      .from(share)
      .where(and(eq(share.id, shareId), eq(share.surveyId, surveyId)))
      .get();
    const wanted = new Set(own?.addresses ?? []);
    if (own ? addresses.some((address) => !wanted.has(address)) : found.state === 'running') return 'unasked';
    const over = found.state === 'cancelled';
    db.insert(delivery)
      .values({
        id,
        surveyId,
        shareId,
        collector: name,
        arrivedAt: now.toISOString(),
        state: over ? 'dropped' : 'waiting',
        addresses: over ? [] : addresses,
        body: over ? null : body,
      })
      .run();
    if (last) db.update(share).set({ state: 'done' }).where(eq(share.id, shareId)).run();
    return over ? 'over' : 'stored';
  });
}

export type WaitingDelivery = Pick<typeof delivery.$inferSelect, 'id' | 'collector' | 'addresses'> & { body: Buffer };

/** What arrived for a survey and was not taken, oldest first. */
export function waitingDeliveries(db: Db, surveyId: number, most = 50): WaitingDelivery[] {
  return db
    .select({ id: delivery.id, collector: delivery.collector, addresses: delivery.addresses, body: delivery.body })
    .from(delivery)
    .where(and(eq(delivery.surveyId, surveyId), eq(delivery.state, 'waiting')))
    .orderBy(sql`rowid`)
    .limit(most)
    .all()
    .map(({ body, ...row }) => ({ ...row, body: body ?? Buffer.alloc(0) }));
}

/** Takes a delivery into a survey and notes that it was, both or neither. */
export function takeDelivery(db: Db, id: string, take: () => void): void {
  inTransaction(db, () => {
    take();
    db.update(delivery).set({ state: 'taken', body: null, addresses: [] }).where(eq(delivery.id, id)).run();
  });
}

/** Nobody wants what came for a survey that was cancelled. */
export function dropDeliveries(db: Db, surveyId: number): void {
  db.update(delivery)
    .set({ state: 'dropped', body: null, addresses: [] })
    .where(and(eq(delivery.surveyId, surveyId), eq(delivery.state, 'waiting')))
    .run();
}

/**
 * Drops what came late and tells nothing new: its survey, or a later one of the same scope, has heard these addresses already. A collector that was killed sends
 * what it had spooled though another one was asked in its place.
 */
export function dropKnownDeliveries(db: Db): void {
  inTransaction(db, () => {
    const rows = db
      .select({ id: delivery.id, surveyId: delivery.surveyId, addresses: delivery.addresses, scopeId: survey.scopeId })
      .from(delivery)
      .innerJoin(survey, eq(survey.id, delivery.surveyId))
      .where(and(eq(delivery.state, 'waiting'), eq(survey.state, 'sealed')))
      .all();
    for (const { id, surveyId, addresses, scopeId } of rows) {
      const heard = heardSince(db, surveyId, scopeId, addresses);
      if (heard.size === 0) continue;
      const news = addresses.filter((address) => !heard.has(address));
      const values = news.length > 0 ? { addresses: news } : { state: 'dropped' as const, addresses: [], body: null };
      db.update(delivery).set(values).where(eq(delivery.id, id)).run();
    }
  });
}

/** Which of these addresses answered in a sealed survey, or in a later one of its scope. */
function heardSince(db: Db, surveyId: number, scopeId: number | null, addresses: string[]): Set<string> {
  const later = scopeId === null ? undefined : and(gt(survey.id, surveyId), eq(survey.scopeId, scopeId));
  return new Set(
    db
      .select({ address: visit.address })
      .from(visit)
      .innerJoin(survey, eq(survey.id, visit.surveyId))
      .where(
        and(
          inArray(visit.address, addresses),
          eq(visit.outcome, 'answered'),
          eq(survey.state, 'sealed'),
          or(eq(survey.id, surveyId), later),
        ),
      )
      .all()
      .map(({ address }) => address),
  );
}

/** Surveys that were sealed, or given up, before all that collectors had for them was there; with the addresses that came late. */
export function lateDeliveries(db: Db): { surveyId: number; scopeName: string; addresses: string[] }[] {
  const rows = db
    .select({ surveyId: delivery.surveyId, addresses: delivery.addresses, scopeName: survey.scopeName })
    .from(delivery)
    .innerJoin(survey, eq(survey.id, delivery.surveyId))
    .where(and(eq(delivery.state, 'waiting'), inArray(survey.state, ['sealed', 'failed'])))
    .all();
  const bySurvey = new Map<number, { surveyId: number; scopeName: string; addresses: string[] }>();
  for (const { surveyId, scopeName, addresses } of rows) {
    const known = bySurvey.get(surveyId);
    if (known) known.addresses.push(...addresses);
    else bySurvey.set(surveyId, { surveyId, scopeName, addresses: [...addresses] });
  }
  // the word that a share is over, and nothing else, makes no survey
  return [...bySurvey.values()].filter(({ addresses }) => addresses.length > 0);
}

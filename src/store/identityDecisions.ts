import { and, desc, eq, getTableName, sql } from 'drizzle-orm';
import type { DeviceFacts } from '../core/estate/facts';
import { linkKey } from '../core/topology/links';
import { inTransaction, type Db } from './base/database';
import { factHistory, factsAsOf } from './base/facts';
import { readGroups } from './groups';
import { device, estateGroup, factTables, identityDecision, identityPin } from './base/schema';
import { latestSealed } from './base/sealedSurveys';

/** Devices cannot be parted or put together so. */
export class IdentityDecisionError extends Error {}

export interface IdentityDecision {
  id: number;
  at: string;
  who: string;
  kind: 'split' | 'join';
  keptId: number;
  otherId: number;
  surveyId: number;
  words: string;
  undone: boolean;
}

/** Facts that belong to a device; links and endpoints belong to none and name theirs. */
const ownTables = Object.entries(factTables)
  .filter(([kind]) => kind !== 'link' && kind !== 'attachment')
  .map(([, table]) => getTableName(table));

interface Version {
  id: number;
  key: string;
  fromSurvey: number;
  untilSurvey: number | null;
  content: string;
}

const columns = 'id, key, from_survey as fromSurvey, until_survey as untilSurvey, content';

export const decisionsAbout = (db: Db, deviceId: number): IdentityDecision[] =>
  db
    .select()
    .from(identityDecision)
    .where(sql`(${identityDecision.keptId} = ${deviceId} or ${identityDecision.otherId} = ${deviceId})`)
    .orderBy(desc(identityDecision.id))
    .all();

/** Grows with every decision. */
export const decisionStamp = (db: Db): number =>
  db
    .select({ last: sql<number>`coalesce(max(id), 0) * 2 + coalesce(sum(undone), 0)` })
    .from(identityDecision)
    .get()?.last ?? 0;

/** Surveys in which a device answered, oldest first. */
export function answeredSurveys(db: Db, deviceId: number): number[] {
  return db.$client
    .prepare<[number, number], { id: number }>(
      "select survey_id as id from visit where device_id = ? and outcome in ('answered', 'partial') union select survey_id from told where device_id = ? order by 1",
    )
    .all(deviceId, deviceId)
    .map(({ id }) => id);
}

/**
 * From a survey on, what was taken for a device is another one: everything that survey and later ones found goes to a new device, everything before stays.
 * @returns the new device
 * @throws IdentityDecisionError
 */
export function splitDevice(db: Db, who: string, deviceId: number, surveyId: number, now = new Date()): number {
  return inTransaction(db, () => {
    const answered = answeredSurveys(db, deviceId);
    if (!answered.includes(surveyId))
      throw new IdentityDecisionError(`The device did not answer in survey ${surveyId}: nothing of it begins there`);
    if ((answered[0] ?? surveyId) >= surveyId)
      throw new IdentityDecisionError(
        'That is the survey that found it first: there is nothing before it to part from',
      );
    const otherId = part(db, deviceId, surveyId);
    const name = nameAt(db, otherId, latestSealed(db)) ?? nameAt(db, otherId, surveyId) ?? '';
    decide(db, {
      at: now.toISOString(),
      who,
      kind: 'split',
      keptId: deviceId,
      otherId,
      surveyId,
      words: `${name} is another device from survey ${surveyId} on`,
    });
    pinAsOf(db, deviceId, surveyId - 1);
    pinAsOf(db, otherId, latestSealed(db));
    return otherId;
  });
}

/**
 * What was taken for two devices is one: what the later one told continues the earlier one.
 * @throws IdentityDecisionError where both answered in one survey
 */
export function joinDevices(db: Db, who: string, keptId: number, otherId: number, now = new Date()): void {
  inTransaction(db, () => {
    const [kept, other] = [answeredSurveys(db, keptId), answeredSurveys(db, otherId)];
    if (keptId === otherId || kept.length === 0 || other.length === 0)
      throw new IdentityDecisionError('There are no two devices to put together');
    const [first = 0, last = 0] = [other[0], kept.at(-1)];
    if (first <= last)
      throw new IdentityDecisionError(
        kept.includes(first)
          ? `Both answered in survey ${first}: they are two devices`
          : `The one that stays must be the one that was seen first, and must not have answered since survey ${first}`,
      );
    const names = [nameAt(db, keptId, last), nameAt(db, otherId, first)];
    merge(db, keptId, otherId, first);
    decide(db, {
      at: now.toISOString(),
      who,
      kind: 'join',
      keptId,
      otherId,
      surveyId: first,
      words:
        names[0] === names[1]
          ? `${names[0] ?? ''} is one device, before survey ${first} and after`
          : `${names[1] ?? ''} is what ${names[0] ?? ''} was before survey ${first}`,
    });
    pinAsOf(db, keptId, latestSealed(db));
  });
}

/** Takes a decision back: what was parted is put together, what was put together is parted. @returns what it was, null where there is none to take back */
export function undoDecision(db: Db, id: number): IdentityDecision | null {
  return inTransaction(db, () => {
    const decision = db
      .select()
      .from(identityDecision)
      .where(and(eq(identityDecision.id, id), eq(identityDecision.undone, false)))
      .get();
    if (!decision) return null;
    const { kind, keptId, otherId, surveyId } = decision;
    if (kind === 'split') merge(db, keptId, otherId, surveyId);
    else part(db, keptId, surveyId, otherId);
    db.delete(identityPin)
      .where(sql`device_id in (${keptId}, ${otherId})`)
      .run();
    db.update(identityDecision).set({ undone: true }).where(eq(identityDecision.id, id)).run();
    return decision;
  });
}

function decide(db: Db, decision: Omit<IdentityDecision, 'id' | 'undone'>): void {
  db.insert(identityDecision).values(decision).run();
}

const factsOf = (db: Db, deviceId: number, surveyId: number) =>
  factsAsOf<DeviceFacts>(db, 'device', surveyId, [deviceId])[0]?.content;
const nameAt = (db: Db, deviceId: number, surveyId: number) => factsOf(db, deviceId, surveyId)?.name;

/** A device is known again by the name and address it had at a survey. */
function pinAsOf(db: Db, deviceId: number, surveyId: number): void {
  const facts = factsOf(db, deviceId, surveyId);
  if (!facts) return;
  const { name, address } = facts;
  db.insert(identityPin)
    .values({ name, address, deviceId })
    .onConflictDoUpdate({ target: [identityPin.name, identityPin.address], set: { deviceId } })
    .run();
}

/** Everything from a survey on goes to another device. */
function part(db: Db, fromId: number, surveyId: number, toId?: number): number {
  const raw = db.$client;
  const credential =
    db.select({ credential: device.credential }).from(device).where(eq(device.id, fromId)).get()?.credential ?? null;
  const { id } = db
    .insert(device)
    .values({ ...(toId !== undefined && { id: toId }), firstSurvey: surveyId, credential })
    .returning({ id: device.id })
    .get();
  for (const table of ownTables) {
    raw
      .prepare(
        `insert into ${table} (device_id, key, from_survey, until_survey, content) select ?, key, ?, until_survey, content from ${table} where device_id = ? and from_survey < ? and (until_survey is null or until_survey > ?)`,
      )
      .run(id, surveyId, fromId, surveyId, surveyId);
    raw
      .prepare(
        `update ${table} set until_survey = ? where device_id = ? and from_survey < ? and (until_survey is null or until_survey > ?)`,
      )
      .run(surveyId, fromId, surveyId, surveyId);
    raw.prepare(`update ${table} set device_id = ? where device_id = ? and from_survey >= ?`).run(id, fromId, surveyId);
  }
  for (const table of ['visit', 'told', 'displaced', 'volatile', 'port_moment', 'sighting', 'interface_report'])
    raw.prepare(`update ${table} set device_id = ? where device_id = ? and survey_id >= ?`).run(id, fromId, surveyId);
  // since when ports are as they are is told only where it moves
  raw
    .prepare(
      'insert or ignore into port_moment (device_id, survey_id, body) select ?, ?, body from port_moment where device_id = ? and survey_id < ? order by survey_id desc limit 1',
    )
    .run(id, surveyId, fromId, surveyId);
  rename(db, fromId, id, surveyId);
  raw
    .prepare(
      "insert or ignore into own_value (thing, row_id, field, value) select thing, ?, field, value from own_value where thing = 'devices' and row_id = ?",
    )
    .run(String(id), String(fromId));
  raw
    .prepare(
      "insert or ignore into own_value (thing, row_id, field, value) select thing, ? || substr(row_id, instr(row_id, ':')), field, value from own_value where thing = 'ports' and row_id like ? || ':%'",
    )
    .run(String(id), String(fromId));
  regroup(db, (members) => (members.includes(String(fromId)) ? [...members, String(id)] : members));
  return id;
}

/** Everything of a device goes to another one, which ends at that survey. */
function merge(db: Db, keptId: number, goneId: number, surveyId: number): void {
  const raw = db.$client;
  for (const table of ownTables) {
    const spanning = raw
      .prepare<[number, number, number], Version>(
        `select ${columns} from ${table} where device_id = ? and from_survey < ? and (until_survey is null or until_survey > ?)`,
      )
      .all(keptId, surveyId, surveyId);
    const begun = new Map(
      raw
        .prepare<[number, number], Version>(`select ${columns} from ${table} where device_id = ? and from_survey = ?`)
        .all(goneId, surveyId)
        .map((row) => [row.key, row]),
    );
    const [remove, end] = [
      raw.prepare(`delete from ${table} where id = ?`),
      raw.prepare(`update ${table} set until_survey = ? where id = ?`),
    ];
    raw.prepare(`delete from ${table} where device_id = ? and from_survey >= ?`).run(keptId, surveyId);
    for (const row of spanning) {
      const next = begun.get(row.key);
      // the same goes on: it is one version
      const same = next !== undefined && next.content === row.content;
      if (same) remove.run(next.id);
      end.run(same ? next.untilSurvey : surveyId, row.id);
    }
    raw.prepare(`update ${table} set device_id = ? where device_id = ?`).run(keptId, goneId);
  }
  for (const table of ['volatile', 'port_moment'])
    raw.prepare(`delete from ${table} where device_id = ? and survey_id >= ?`).run(keptId, surveyId);
  raw
    .prepare('delete from told where device_id = ? and survey_id in (select survey_id from told where device_id = ?)')
    .run(keptId, goneId);
  // what took whose place no longer matters where both are one
  raw.prepare('delete from displaced where device_id in (?, ?) and "by" in (?, ?)').run(keptId, goneId, keptId, goneId);
  raw
    .prepare(
      'delete from displaced where device_id = ? and survey_id in (select survey_id from displaced where device_id = ?)',
    )
    .run(keptId, goneId);
  raw.prepare('update displaced set "by" = ? where "by" = ?').run(keptId, goneId);
  raw
    .prepare('delete from sighting where device_id = ? and exists (select 1 from sighting where device_id = ?)')
    .run(keptId, goneId);
  raw
    .prepare(
      'delete from interface_report where device_id = ? and interface in (select interface from interface_report where device_id = ?)',
    )
    .run(keptId, goneId);
  for (const table of ['visit', 'told', 'displaced', 'volatile', 'port_moment', 'sighting', 'interface_report'])
    raw.prepare(`update ${table} set device_id = ? where device_id = ?`).run(keptId, goneId);
  rename(db, goneId, keptId, 0);
  raw
    .prepare("update or ignore own_value set row_id = ? where thing = 'devices' and row_id = ?")
    .run(String(keptId), String(goneId));
  raw
    .prepare(
      "update or ignore own_value set row_id = ? || substr(row_id, instr(row_id, ':')) where thing = 'ports' and row_id like ? || ':%'",
    )
    .run(String(keptId), String(goneId));
  raw
    .prepare(
      "delete from own_value where (thing = 'devices' and row_id = ?) or (thing = 'ports' and row_id like ? || ':%')",
    )
    .run(String(goneId), String(goneId));
  regroup(db, (members) =>
    members.flatMap((member) =>
      member === String(goneId) ? (members.includes(String(keptId)) ? [] : [String(keptId)]) : [member],
    ),
  );
  db.delete(identityPin).where(eq(identityPin.deviceId, goneId)).run();
  db.delete(device).where(eq(device.id, goneId)).run();
}

/** Links and endpoints name devices within what they say: from a survey on they name another one. */
function rename(db: Db, fromId: number, toId: number, surveyId: number): void {
  for (const kind of ['link', 'attachment'] as const) {
    const table = getTableName(factTables[kind]);
    const rows = db.$client
      .prepare<[string, string, number], Version>(
        `select ${columns} from ${table} where (content like ? or content like ?) and (until_survey is null or until_survey > ?)`,
      )
      .all(`%eviceId":${fromId},%`, `%eviceId":${fromId}}%`, surveyId);
    const [end, begin, change] = [
      db.$client.prepare(`update ${table} set until_survey = ? where id = ?`),
      db.$client.prepare(
        `insert into ${table} (device_id, key, from_survey, until_survey, content) values (0, ?, ?, ?, ?)`,
      ),
      db.$client.prepare(`update ${table} set key = ?, content = ? where id = ?`),
    ];
    for (const row of rows) {
      const content = renamed(JSON.parse(row.content) as Named, fromId, toId);
      const key = kind === 'link' && content.a && content.b ? linkKey(content.a, content.b) : row.key;
      if (row.fromSurvey >= surveyId) change.run(key, JSON.stringify(content), row.id);
      else {
        end.run(surveyId, row.id);
        begin.run(key, surveyId, row.untilSurvey, JSON.stringify(content));
      }
    }
  }
}

interface Named {
  a?: { deviceId: number; device: string; port: string };
  b?: { deviceId: number; device: string; port: string };
  deviceId?: number | null;
  ownDeviceId?: number | null;
}

function renamed(content: Named, fromId: number, toId: number): Named {
  const id = <Id extends number | null | undefined>(given: Id) => (given === fromId ? toId : given);
  return {
    ...content,
    ...(content.a && { a: { ...content.a, deviceId: id(content.a.deviceId) } }),
    ...(content.b && { b: { ...content.b, deviceId: id(content.b.deviceId) } }),
    ...('deviceId' in content && { deviceId: id(content.deviceId) }),
    ...('ownDeviceId' in content && { ownDeviceId: id(content.ownDeviceId) }),
  };
}

/** Changes the members of groups of devices that are made by name. */
function regroup(db: Db, change: (members: string[]) => string[]): void {
  for (const { id, ...group } of readGroups(db)) {
    if (group.kind !== 'fixed' || group.thing !== 'devices') continue;
    const members = change(group.members);
    if (members.join() !== group.members.join()) {
      db.update(estateGroup).set({ members }).where(eq(estateGroup.id, id)).run();
    }
  }
}

/** The surveys at which what a device is made of changed so that it may be another one: where one would part it. */
export function doubtfulSurveys(db: Db, deviceId: number): { survey: number; words: string }[] {
  const versions = factHistory<DeviceFacts>(db, 'device', deviceId);
  return versions.flatMap(({ content, fromSurvey }, at) => {
    const before = versions[at - 1]?.content;
    if (!before) return [];
    const words = [
      ...(before.serial !== content.serial && before.serial && content.serial
        ? [`serial ${before.serial} → ${content.serial}`]
        : []),
      ...(before.name !== content.name ? [`name ${before.name} → ${content.name}`] : []),
      ...(before.model !== content.model ? [`model ${before.model} → ${content.model}`] : []),
      ...(before.address !== content.address ? [`address ${before.address} → ${content.address}`] : []),
    ];
    return words.length > 0 ? [{ survey: fromSurvey, words: words.join(', ') }] : [];
  });
}

/** Devices that could be what this one was before, or became later: never answered in the same survey, and share a name, an address, a serial or a model at a site. */
export function joinCandidates(
  db: Db,
  deviceId: number,
): { id: number; name: string; words: string; earlier: boolean }[] {
  const latest = latestSealed(db);
  const all = factsAsOf<DeviceFacts>(db, 'device', latest);
  const own = all.find((row) => row.deviceId === deviceId)?.content;
  const answered = answeredSurveys(db, deviceId);
  const [first, last] = [answered[0], answered.at(-1)];
  if (!own || first === undefined || last === undefined) return [];
  return all.flatMap(({ deviceId: id, content }) => {
    if (id === deviceId) return [];
    const shared = [
      ...(content.name === own.name ? ['name'] : []),
      ...(content.addresses.some((address) => own.addresses.includes(address)) || content.address === own.address
        ? ['address']
        : []),
      ...(content.serial && content.serial === own.serial ? ['serial'] : []),
      ...(content.site && content.site === own.site && content.model && content.model === own.model
        ? ['model and site']
        : []),
    ];
    if (shared.length === 0) return [];
    const other = answeredSurveys(db, id);
    const [otherFirst, otherLast] = [other[0], other.at(-1)];
    if (otherFirst === undefined || otherLast === undefined || !(otherLast < first || last < otherFirst)) return [];
    return [
      {
        id,
        name: content.name,
        words: `same ${shared.join(', ')}; answered ${otherLast < first ? `until survey ${otherLast}` : `since survey ${otherFirst}`}`,
        earlier: otherLast < first,
      },
    ];
  });
}

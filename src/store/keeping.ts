import { readdirSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { eq } from 'drizzle-orm';
import { usualRetention, type Retention } from '../core/keeping/retention';
import type { Store } from './base/database';
import type { Db } from './base/db';
import { latestSealed } from './base/sealedSurveys';
import { setting } from './base/schema';
import { dropSomeTalk, foldSomeTalk } from './talk/keeping';

const retentionKey = 'retention';
const growthKey = 'growth';

const read = <Value>(db: Db, key: string): Value | null =>
  (db.select().from(setting).where(eq(setting.key, key)).get()?.value as Value | undefined) ?? null;

function write(db: Db, key: string, value: unknown): void {
  db.insert(setting).values({ key, value }).onConflictDoUpdate({ target: setting.key, set: { value } }).run();
}

export const readRetention = (db: Db): Retention => ({
  ...usualRetention,
  ...read<Partial<Retention>>(db, retentionKey),
});
export const saveRetention = (db: Db, retention: Retention): void => write(db, retentionKey, retention);

/** So many rows go at a time: nobody waits for more than that. */
const portion = 2000;
/** Pages of the file that are given back to the disk at a time. */
const pagesAtOnce = 2000;

const agoDays = (now: Date, days: number): string => new Date(now.getTime() - days * 86_400_000).toISOString();

/** Readings that another one of the same span of time follows; a moment is written so that its first letters name its hour (13) or its day (10). */
const followedWithin = (letters: number): string => `delete from volatile where (device_id, survey_id) in (
  select own.device_id, own.survey_id from volatile as own join survey on survey.id = own.survey_id
    join survey as next on next.id = (
      select min(survey_id) from volatile as later where later.device_id = own.device_id and later.survey_id > own.survey_id)
  where survey.started_at < ? and substr(next.started_at, 1, ${letters}) = substr(survey.started_at, 1, ${letters}) limit ?)`;

/** Takes away a portion of what is older than it is kept. @returns how many rows went: where some did, there may be more */
export function pruneSome({ raw, db, folder }: Store, now: Date): number {
  const {
    readingsDays,
    hourlyDays,
    actsDays,
    jobsDays,
    deliveriesDays,
    emptyVisitsDays,
    talkDailyDays,
    talkDays,
    copies,
  } = readRetention(db);
  const gone = [
    [followedWithin(13), readingsDays],
    [followedWithin(10), hourlyDays],
    ['delete from audit where id in (select id from audit where at < ? order by id limit ?)', actsDays],
    ['delete from job where id in (select id from job where ended_at < ? order by id limit ?)', jobsDays],
    [
      "delete from delivery where id in (select id from delivery where state <> 'waiting' and arrived_at < ? limit ?)",
      deliveriesDays,
    ],
    [
      `delete from share where id in (select share.id from share join survey on survey.id = share.survey_id
        where survey.state <> 'running' and survey.started_at < ? limit ?)`,
      deliveriesDays,
    ],
    [
      `delete from visit where (survey_id, address) in (select survey_id, address from visit
        where device_id is null and survey_id in (select id from survey where state <> 'running' and started_at < ?) limit ?)`,
      emptyVisitsDays,
    ],
  ] as const;
  let count = 0;
  for (const [statement, days] of gone) count += raw.prepare(statement).run(agoDays(now, days), portion).changes;
  const secondsAgo = (days: number) => now.getTime() / 1000 - days * 86_400;
  count += dropSomeTalk(db, secondsAgo(talkDays)) + foldSomeTalk(db, secondsAgo(talkDailyDays), now);
  for (const begin of ['before-migration-', 'before-restore-'])
    for (const name of copiesOf(folder, begin).slice(copies)) rmSync(path.join(folder, name), { force: true });
  return count;
}

/** The newest first. */
const copiesOf = (folder: string, begin: string): string[] =>
  readdirSync(folder)
    .filter((name) => name.startsWith(begin) && name.endsWith('.sqlite'))
    .sort()
    .reverse();

const pragma = ({ raw }: Pick<Store, 'raw'>, name: string): number => Number(raw.pragma(name, { simple: true }));

/** Gives some of the room that nothing lies in any more back to the disk, where the file was made for that. */
export function giveBackRoom(store: Pick<Store, 'raw'>): void {
  if (pragma(store, 'freelist_count') > pagesAtOnce) store.raw.pragma(`incremental_vacuum(${pagesAtOnce})`);
}

/** How large the data were after a survey, without room that nothing lies in. */
export interface Growth {
  survey: number;
  octets: number;
}

const mostGrowth = 60;

/** Notes how large the data are, once after each survey. */
export function noteGrowth(store: Pick<Store, 'raw' | 'db'>): void {
  const newest = latestSealed(store.db);
  const known = growthOf(store.db);
  if (newest === 0 || known.at(-1)?.survey === newest) return;
  const octets = (pragma(store, 'page_count') - pragma(store, 'freelist_count')) * pragma(store, 'page_size');
  write(store.db, growthKey, [...known, { survey: newest, octets }].slice(-mostGrowth));
}

export const growthOf = (db: Db): Growth[] => read<Growth[]>(db, growthKey) ?? [];

/** What a part of the data takes up. */
export interface PartSize {
  part: 'facts' | 'visits' | 'readings' | 'acts' | 'jobs' | 'collectors' | 'talk' | 'other' | 'free' | 'copies';
  octets: number;
}

const talkTables = new Set(['talk_address', 'conversation', 'heard', 'capture', 'talk_batch']);
const partOf = (table: string): PartSize['part'] => {
  if (table.endsWith('_fact')) return 'facts';
  if (table === 'visit' || table === 'told' || table === 'displaced') return 'visits';
  if (table === 'volatile' || table === 'port_moment') return 'readings';
  if (table === 'audit' || table === 'edit') return 'acts';
  if (table === 'job' || table === 'scheduled_run') return 'jobs';
  if (talkTables.has(table)) return 'talk';
  return table === 'delivery' || table === 'share' || table === 'collector' ? 'collectors' : 'other';
};

/** What each part of the data takes up, the largest first. Reads all of the file. */
export function sizesOf(store: Store): PartSize[] {
  const sizes = new Map<PartSize['part'], number>();
  const add = (part: PartSize['part'], octets: number) => sizes.set(part, (sizes.get(part) ?? 0) + octets);
  const tables = store.raw
    .prepare<[], { name: string; octets: number }>(
      `select coalesce(schema.tbl_name, stat.name) as name, sum(stat.pgsize) as octets
        from dbstat as stat left join sqlite_master as schema on schema.name = stat.name group by 1`,
    )
    .all();
  for (const { name, octets } of tables) add(partOf(name), octets);
  add('free', pragma(store, 'freelist_count') * pragma(store, 'page_size'));
  for (const begin of ['before-migration-', 'before-restore-'])
    for (const name of copiesOf(store.folder, begin)) add('copies', statSync(path.join(store.folder, name)).size);
  return [...sizes]
    .map(([part, octets]) => ({ part, octets }))
    .filter(({ octets }) => octets > 0)
    .sort((one, other) => other.octets - one.octets);
}

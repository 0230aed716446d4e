import type { Db } from './database';
import { packPhases, packWords } from './visitCodec';

/** What is known of one address in one survey; what is left away stays as it was noted before. */
export interface VisitNote {
  state: 'asking' | 'done';
  outcome?: string;
  reason?: string;
  remedy?: string;
  deviceId?: number | null;
  credential?: string;
  missing?: unknown;
  /** seconds by phase and part */
  phases?: Record<string, number>;
  milliseconds?: number;
  path?: string | null;
}

const columns = [
  'survey_id',
  'address',
  'seq',
  'state',
  'outcome',
  'device_id',
  'credential',
  'reason',
  'remedy',
  'missing',
  'phases',
  'milliseconds',
  'path',
] as const;

/** Notes visits of one survey. One statement, prepared once and past the query builder: a large scope notes tens of thousands. */
export function visitNotes(db: Db, surveyId: number): (address: string, seq: number, note: VisitNote) => void {
  const kept = columns.slice(4).map((column) => `${column} = coalesce(excluded.${column}, ${column})`);
  const statement = db.$client.prepare(
    `insert into visit (${columns.join(', ')}) values (${columns.map(() => '?').join(', ')}) on conflict (survey_id, address) do update set seq = excluded.seq, state = excluded.state, ${kept.join(', ')}`,
  );
  const words = (text: string | undefined) => (text === undefined ? null : packWords(text));
  const json = (value: unknown) => (value === undefined ? null : JSON.stringify(value));
  return (
    address,
    seq,
    { state, outcome, deviceId, credential, reason, remedy, missing, phases, milliseconds, path },
  ) => {
    statement.run(
      surveyId,
      address,
      seq,
      state,
      outcome ?? null,
      deviceId ?? null,
      credential ?? null,
      words(reason),
      words(remedy),
      json(missing),
      phases === undefined ? null : packPhases(phases),
      milliseconds ?? null,
      path ?? null,
    );
  };
}

/** Nobody tails a survey that is over: in which order its visits were written need not be kept. */
export function forgetOrder(db: Db, before: number): void {
  db.$client.prepare<[number]>('update visit set seq = 0 where seq > 0 and survey_id < ?').run(before);
}

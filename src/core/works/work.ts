import * as yup from 'yup';
import { line } from '../values/line';

export const workKinds = ['planned work', 'incident'] as const;
export type WorkKind = (typeof workKinds)[number];

/** Something that is planned, or that happened: what, who, when, on which things. */
export interface Work {
  kind: WorkKind;
  title: string;
  who: string;
  /** ISO moments; without an end it lasts until somebody says otherwise */
  from: string;
  until: string | null;
  /** `device:12`, `service:12 web`, as a rehearsal names them */
  things: string[];
  note: string;
  /** which other system tells of it, and its number there; empty where somebody wrote it here */
  source: string;
  number: string;
}

const moment = (what: string) =>
  yup
    .string()
    .test('moment', `${what} must be a moment like 2026-11-28T22:00:00Z`, (text) =>
      text === undefined || text === null ? true : !Number.isNaN(Date.parse(text)) && /^\d{4}-\d\d-\d\dT/.test(text),
    );

const told = {
  kind: yup.string().oneOf(workKinds).required(),
  title: line('The title').max(200, 'A title has no more than 200 characters').required('Say what it is'),
  who: line('Who').max(120, 'No more than 120 characters').defined(),
  from: moment('The start').required('Say when it begins'),
  until: moment('The end').nullable().defined(),
  things: yup
    .array(yup.string().trim().max(400).required())
    .min(1, 'Name at least one thing')
    .max(500, 'No more than 500 things')
    .required(),
  note: yup.string().max(4000, 'A note has no more than 4000 characters').defined(),
};
const endsAfter = (work: { from: string; until?: string | null }, context: yup.TestContext) =>
  work.until && Date.parse(work.until) <= Date.parse(work.from)
    ? context.createError({ path: 'until', message: 'It ends before it begins' })
    : true;

export const workSchema = yup
  .object({
    ...told,
    source: line('The source').max(80).default(''),
    number: line('The number').max(80).default(''),
  })
  .noUnknown()
  .test('order', 'It ends before it begins', endsAfter) as unknown as yup.Schema<Work>;

/** What another system tells of one of its tickets; which system and which ticket stand in the address. */
export type ToldWork = Omit<Work, 'source' | 'number'>;
export const toldWorkSchema = yup
  .object(told)
  .noUnknown()
  .test('order', 'It ends before it begins', endsAfter) as unknown as yup.Schema<ToldWork>;

export type WorkState = 'planned' | 'now' | 'over';

export function workState({ from, until }: Pick<Work, 'from' | 'until'>, at: number): WorkState {
  if (at < Date.parse(from)) return 'planned';
  return until !== null && at >= Date.parse(until) ? 'over' : 'now';
}

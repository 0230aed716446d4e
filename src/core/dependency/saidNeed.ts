import * as yup from 'yup';
import { line } from '../values/line';
import { thingKinds, type ThingKind } from './graph';

export const saidNeedKinds = ['stated', 'powered by'] as const;
export type SaidNeedKind = (typeof saidNeedKinds)[number];

/** That something rests on other things, because somebody says so: what no survey and no capture can see. */
export interface SaidNeed {
  /** `device:12`, `service:12 web`, as a rehearsal names them */
  of: string;
  /** on which things, of which so many must go on */
  from: string[];
  atLeast: number;
  kind: SaidNeedKind;
  /** how somebody knows */
  note: string;
  /** a day, after which it is to be asked again whether it is so; null for never */
  reviewOn: string | null;
  /** who said so */
  by: string;
}

/** What is sent of it: who says so is known. */
export type SaidNeedBody = Omit<SaidNeed, 'by'>;

export const saidNeedSchema = yup
  .object({
    of: yup.string().trim().max(400).required('Say of what'),
    from: yup
      .array(yup.string().trim().max(400).required())
      .min(1, 'Name at least one thing that it rests on')
      .max(50, 'No more than 50 things')
      .required(),
    atLeast: yup.number().integer('A whole number').min(1, 'At least one').max(50).required(),
    kind: yup.string().oneOf(saidNeedKinds).required(),
    note: line('How it is known').max(1000, 'No more than 1000 characters').required('Say how you know'),
    reviewOn: yup
      .string()
      .nullable()
      .matches(/^\d{4}-\d\d-\d\d$/, 'A day, as 2026-12-24')
      .defined(),
  })
  .noUnknown()
  // what is missing altogether is told by itself
  .test('share', '', ({ from, atLeast }: { from?: string[]; atLeast?: number }, context) =>
    from && from.length > 0 && (atLeast ?? 0) > from.length
      ? context.createError({ path: 'atLeast', message: `It rests on ${from.length}: no more can be needed` })
      : true,
  ) as unknown as yup.Schema<SaidNeedBody>;

/** A thing by its kind and id, as `device:12` writes it; null for what is none. */
export function thingOfToken(token: string): { kind: ThingKind; id: string } | null {
  const at = token.indexOf(':');
  const kind = thingKinds.find((one) => one === token.slice(0, at));
  return kind && at > 0 && at < token.length - 1 ? { kind, id: token.slice(at + 1) } : null;
}

/** Whether it was to be asked again by a day. @param today `2026-12-01` */
export const isReviewDue = ({ reviewOn }: Pick<SaidNeed, 'reviewOn'>, today: string): boolean =>
  reviewOn !== null && reviewOn <= today;

/** How many of those that a thing rests on it needs, before their names: “any of ”, “2 of ”; nothing of one alone, or where it goes on without. */
export const shareWords = (atLeast: number, count: number): string =>
  count < 2 || atLeast === 0 ? '' : atLeast === count ? 'all of ' : atLeast === 1 ? 'any of ' : `${atLeast} of `;

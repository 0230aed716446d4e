import isEqual from 'fast-deep-equal';
import * as yup from 'yup';
import { line } from '../values/line';
import { componentKinds, type ComponentKind } from './components';

/** Who goes first, who next, and who then. */
export const stageNames = ['try-out', 'early', 'rest'] as const;
export type StageName = (typeof stageNames)[number];

/** A part of the devices of a target that goes before the others. */
export interface TargetStage {
  name: Exclude<StageName, 'rest'>;
  /** a filter of devices */
  where: string;
  /** so long all of them run it before the next stage may go */
  days: number;
}

/** The release that a component of a family, or of a part's model, should run: everywhere, or on some devices of it. */
export interface ReleaseTarget {
  vendor: string;
  /** the family of a device, or the model of a part */
  family: string;
  component: ComponentKind;
  release: string;
  /** for the devices of this group; at most one of group, model and where says which; empty for all */
  group: string;
  /** for the devices of this model */
  model: string;
  /** for the devices that this filter holds */
  where: string;
  /** the draft it is of; empty where it is in force */
  draft: string;
  why: string;
  /** day on which somebody looks at it again, ISO; null for none */
  reviewOn: string | null;
  stages: TargetStage[];
  setBy: string;
  setAt: string;
}

/** A target as it is written: what it leaves out is as usual. */
export type ToldTarget = Pick<ReleaseTarget, 'vendor' | 'family' | 'release' | 'setBy' | 'setAt'> &
  Partial<ReleaseTarget>;

const usual = {
  component: 'system',
  group: '',
  model: '',
  where: '',
  draft: '',
  why: '',
  reviewOn: null,
  stages: [],
} satisfies Partial<ReleaseTarget>;

export const completeTarget = (told: ToldTarget): ReleaseTarget => ({ ...usual, ...told });

/** What a target is for; there is one of it, and one in each draft. */
export type TargetPlace = Pick<ReleaseTarget, 'vendor' | 'family'> &
  Partial<Pick<ReleaseTarget, 'component' | 'group' | 'model' | 'where' | 'draft'>>;

/** What a target is for, as a key. Those of whole systems, for all or for a group, have the key they had before there were others. */
export function targetKey({
  vendor,
  family,
  component = 'system',
  group = '',
  model = '',
  where = '',
  draft = '',
}: TargetPlace): string {
  return component === 'system' && model === '' && where === '' && draft === ''
    ? [vendor, family, group].join('\t')
    : JSON.stringify([draft, vendor, family, component, group, model, where]);
}

/** What a key is of. */
export function targetPlace(key: string): TargetPlace {
  if (!key.startsWith('[')) {
    const [vendor = '', family = '', group = ''] = key.split('\t');
    return { vendor, family, group };
  }
  const [draft, vendor, family, component, group, model, where] = JSON.parse(key) as [
    string,
    string,
    string,
    ComponentKind,
    string,
    string,
    string,
  ];
  return { draft, vendor, family, component, group, model, where };
}

/** For whom it is, in words; empty for all of the family. */
export function targetScope({ group = '', model = '', where = '' }: Partial<ReleaseTarget>): string {
  return group !== '' ? `in ${group}` : model !== '' ? `model ${model}` : where;
}

export const targetWords = (target: TargetPlace & { release: string }): string =>
  [
    target.vendor,
    target.family,
    target.component === undefined || target.component === 'system' ? '' : target.component,
    target.release,
    targetScope(target),
    target.draft ? `in the draft ${target.draft}` : '',
  ]
    .filter(Boolean)
    .join(' ');

/** Whether two targets say the same; who set them and when says nothing. */
export const isSameTarget = (one: ReleaseTarget, other: ReleaseTarget): boolean => {
  const said = ({ setBy: _setBy, setAt: _setAt, ...rest }: ReleaseTarget) => rest;
  return isEqual(said(completeTarget(one)), said(completeTarget(other)));
};

/** What of a component decides which target is for it. */
export interface Targeted {
  vendor: string;
  /** the family of the device, or the model of the part */
  family: string;
  component: ComponentKind;
  /** of the device */
  model: string;
}

const particularity = ({ group, model, where }: ReleaseTarget): number =>
  where !== '' ? 3 : model !== '' ? 2 : group !== '' ? 1 : 0;

/** Targets by what they are for, the most particular first. */
export class TargetIndex {
  readonly #byLine = new Map<string, ReleaseTarget[]>();

  constructor(targets: readonly ReleaseTarget[]) {
    for (const target of targets) {
      const key = lineKey(target);
      const own = this.#byLine.get(key);
      if (own) own.push(target);
      else this.#byLine.set(key, [target]);
    }
    for (const own of this.#byLine.values())
      own.sort((x, y) => particularity(y) - particularity(x) || (targetScope(x) < targetScope(y) ? -1 : 1));
  }

  /**
   * The target of a component: the most particular one, so one for a filter goes before one for its model, that before one for a group, that before that of all; of several alike, the first by name.
   * @param isIn whether the device is meant by the group or the filter of a target
   */
  of(subject: Targeted, isIn: (target: ReleaseTarget) => boolean): ReleaseTarget | undefined {
    return this.#byLine
      .get(lineKey(subject))
      ?.find((one) => (one.model !== '' ? one.model === subject.model : particularity(one) === 0 || isIn(one)));
  }
}

const lineKey = ({ vendor, family, component }: Pick<Targeted, 'vendor' | 'family' | 'component'>): string =>
  `${vendor}\t${family}\t${component}`;

const dayText = /^\d{4}-\d\d-\d\d$/;
const releaseText = /^[0-9A-Za-z][0-9A-Za-z._-]*$/;
const longest = 1000;
const mostDays = 365;

/** A target that comes from outside. */
export const targetSchema = yup
  .object({
    vendor: line('The maker').required('Give the maker'),
    family: line('The family').required('Give the family'),
    component: yup.string().oneOf(componentKinds, `One of ${componentKinds.join(', ')}`),
    release: yup
      .string()
      .nullable()
      .defined()
      .matches(releaseText, 'A release has digits, letters and . _ - only')
      .meta({ description: 'null takes the target away' }),
    group: yup.string().max(longest),
    model: yup.string().max(longest),
    where: yup.string().trim().max(longest).meta({ description: 'a filter of devices' }),
    draft: yup.string().max(longest),
    why: yup.string().trim().max(longest, `At most ${longest} letters`),
    reviewOn: yup.string().matches(dayText, 'Write the day like 2026-11-23').nullable(),
    stages: yup
      .array(
        yup
          .object({
            name: yup.string().oneOf(['try-out', 'early']).required(),
            where: yup.string().trim().required('Say which devices, by a filter').max(longest),
            days: yup
              .number()
              .integer('A whole number of days')
              .min(0, 'No fewer than none')
              .max(mostDays, `At most ${mostDays}`)
              .required(),
          })
          .noUnknown(),
      )
      .max(2, 'Two stages go before the rest'),
  })
  .noUnknown();

import * as yup from 'yup';
import { line } from '../values/line';
import { componentKinds, type ComponentKind } from './components';

/** What a release is for. */
export const releaseKinds = ['feature', 'maintenance', 'security', 'urgent fix'] as const;
export type ReleaseKind = (typeof releaseKinds)[number];

/** How its maker stands to it. */
export const releaseStatuses = ['suggested', 'supported', 'withdrawn', 'ended'] as const;
export type ReleaseStatus = (typeof releaseStatuses)[number];

/** A release that another part must run at least. */
export interface OtherNeed {
  component: ComponentKind;
  release: string;
}

/** A revision of the hardware that a model must have at least. */
export interface HardwareNeed {
  model: string;
  revision: string;
}

/** A release of a family, or of a part, as the catalogue describes it. */
export interface CatalogueRelease {
  vendor: string;
  /** the family of a device, or the model of a part */
  family: string;
  component: ComponentKind;
  release: string;
  /** day it was published, ISO */
  published: string;
  kind: ReleaseKind;
  status: ReleaseStatus;
  /** last day on which its maker mends it, ISO; null where nobody said */
  ends: string | null;
  /** memory the device must have, bytes */
  minimumMemoryBytes: number | null;
  /** all flash together, bytes */
  minimumFlashBytes: number | null;
  /** free flash the image needs, bytes */
  neededFlashBytes: number | null;
  /** lowest release from which one may go here directly */
  minimumFrom: string | null;
  /** releases that must be run on the way, in any order */
  through: string[];
  /** lowest boot code */
  minimumBoot: string | null;
  /** models that cannot run it */
  excludedModels: string[];
  hardware: HardwareNeed[];
  others: OtherNeed[];
  /** only who has cover for the device may have it */
  needsCover: boolean;
  image: string;
  imageBytes: number | null;
  /** SHA-256 of the image, in small hexadecimal digits; empty where it is not known */
  imageHash: string;
  /** what it mends: numbers of advisories, or words */
  fixes: string[];
}

/** What an entry may leave out. */
const usual = {
  component: 'system',
  kind: 'maintenance',
  status: 'supported',
  ends: null,
  minimumMemoryBytes: null,
  minimumFlashBytes: null,
  neededFlashBytes: null,
  minimumFrom: null,
  through: [],
  minimumBoot: null,
  excludedModels: [],
  hardware: [],
  others: [],
  needsCover: false,
  image: '',
  imageBytes: null,
  imageHash: '',
  fixes: [],
} satisfies Partial<CatalogueRelease>;

/** An entry as it is written: what it leaves out is as usual. */
export type ToldRelease = Pick<CatalogueRelease, 'vendor' | 'family' | 'release' | 'published'> &
  Partial<CatalogueRelease>;

export const completeRelease = (told: ToldRelease): CatalogueRelease => ({ ...usual, ...told });

/** By what an entry is known. */
export type ReleaseName = Pick<CatalogueRelease, 'vendor' | 'family' | 'component' | 'release'>;

export const isSameLine = (
  one: Pick<ReleaseName, 'vendor' | 'family' | 'component'>,
  other: Pick<ReleaseName, 'vendor' | 'family' | 'component'>,
): boolean => one.vendor === other.vendor && one.family === other.family && one.component === other.component;

/** Whether a release may be what a device should run. */
export const mayBeTarget = ({ status }: Pick<CatalogueRelease, 'status'>): boolean =>
  status === 'suggested' || status === 'supported';

const bytes = () => yup.number().integer('A whole number of bytes').min(0, 'No less than nothing').nullable();
const releaseText = /^[0-9A-Za-z][0-9A-Za-z._-]*$/;
const releaseWords = 'A release has digits, letters and . _ - only';
const dayText = /^\d{4}-\d\d-\d\d$/;
const dayWords = 'Write the day like 2026-11-23';
const mostListed = 200;
const names = () => yup.array(yup.string().trim().max(200).required()).max(mostListed);

/** An entry that comes from outside. */
export const releaseSchema = yup
  .object({
    vendor: line('The maker').required('Give the maker'),
    family: line('The family').required('Give the family'),
    component: yup.string().oneOf(componentKinds, `One of ${componentKinds.join(', ')}`),
    release: line('The release').required('Give the release').matches(releaseText, releaseWords),
    published: yup.string().required('Give the day of publication').matches(dayText, dayWords),
    kind: yup.string().oneOf(releaseKinds, `One of ${releaseKinds.join(', ')}`),
    status: yup.string().oneOf(releaseStatuses, `One of ${releaseStatuses.join(', ')}`),
    ends: yup.string().matches(dayText, dayWords).nullable(),
    minimumMemoryBytes: bytes().defined(),
    minimumFlashBytes: bytes(),
    neededFlashBytes: bytes().defined(),
    minimumFrom: yup.string().nullable().defined(),
    through: yup.array(yup.string().required().matches(releaseText, releaseWords)).max(mostListed),
    minimumBoot: yup.string().nullable().defined(),
    excludedModels: names().required(),
    hardware: yup
      .array(yup.object({ model: yup.string().required(), revision: yup.string().required() }).noUnknown())
      .max(mostListed),
    others: yup
      .array(
        yup
          .object({
            component: yup.string().oneOf(componentKinds).required(),
            release: yup.string().required().matches(releaseText, releaseWords),
          })
          .noUnknown(),
      )
      .max(mostListed),
    needsCover: yup.boolean(),
    image: yup.string().max(300).defined(),
    imageBytes: bytes(),
    imageHash: yup.string().matches(/^([0-9a-f]{64})?$/, 'A SHA-256 has 64 small hexadecimal digits'),
    fixes: names(),
  })
  .noUnknown() as unknown as yup.Schema<ToldRelease>;

'use client';

import Button from '@mui/material/Button';
import { releaseKinds, releaseStatuses, type CatalogueRelease, type ReleaseName } from '@/core/firmware/catalogue';
import { componentKinds, type ComponentKind } from '@/core/firmware/components';
import { formatBytes, parseQuantity } from '@/core/values/quantity';
import { Fold } from '../../components/Fold';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { SelectInput } from '../../components/form/SelectInput';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { useWritten } from '../../features/edits/useWritten';
import { call } from '../../lib/api';

const blank = {
  vendor: '',
  family: '',
  component: 'system',
  release: '',
  published: '',
  kind: 'maintenance',
  status: 'supported',
  ends: '',
  minimumMemoryBytes: '',
  minimumFlashBytes: '',
  neededFlashBytes: '',
  minimumFrom: '',
  through: '',
  minimumBoot: '',
  excludedModels: '',
  hardware: '',
  others: '',
  needsCover: 'no',
  image: '',
  imageHash: '',
  fixes: '',
};
type Draft = typeof blank;

const sizeText = (bytes: number | null) => (bytes === null ? '' : formatBytes(bytes));

const draftOf = ({ imageBytes: _size, ...one }: CatalogueRelease): Draft => ({
  ...one,
  ends: one.ends ?? '',
  minimumMemoryBytes: sizeText(one.minimumMemoryBytes),
  minimumFlashBytes: sizeText(one.minimumFlashBytes),
  neededFlashBytes: sizeText(one.neededFlashBytes),
  minimumFrom: one.minimumFrom ?? '',
  through: one.through.join(', '),
  minimumBoot: one.minimumBoot ?? '',
  excludedModels: one.excludedModels.join(', '),
  hardware: one.hardware.map(({ model, revision }) => `${model} = ${revision}`).join(', '),
  others: one.others.map(({ component, release }) => `${component} = ${release}`).join(', '),
  needsCover: one.needsCover ? 'yes' : 'no',
  fixes: one.fixes.join(', '),
});

const sizeOf = (text: string) => (text.trim() === '' ? null : parseQuantity(text, 'bytes'));

const listOf = (text: string): string[] =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);

/** “K-Access 24 = B2, K-Access 48 = A1” as pairs; what is no pair has nothing behind the sign. */
const pairsOf = (text: string): [string, string][] =>
  listOf(text).map((one) => {
    const at = one.lastIndexOf('=');
    return at < 0 ? [one, ''] : [one.slice(0, at).trim(), one.slice(at + 1).trim()];
  });

const isComponent = (text: string): text is ComponentKind => (componentKinds as readonly string[]).includes(text);

/** Fields that most entries leave as they are. */
const folded = ['kind', 'through', 'minimumFlashBytes', 'hardware', 'others', 'needsCover', 'image', 'imageHash', 'fixes'] as const;

const sizes = ['minimumMemoryBytes', 'minimumFlashBytes', 'neededFlashBytes'] as const;

const mistakesOf = (draft: Draft) => [
  ...sizes.flatMap((path) =>
    draft[path].trim() !== '' && sizeOf(draft[path]) === null
      ? [{ path, message: 'Write a size like 512M or 2G' }]
      : [],
  ),
  ...(pairsOf(draft.hardware).some(([model, revision]) => !model || !revision)
    ? [{ path: 'hardware', message: 'Write a model and its revision, as K-Access 24 = B2' }]
    : []),
  ...(pairsOf(draft.others).some(([component, release]) => !isComponent(component) || !release)
    ? [{ path: 'others', message: `Write as boot code = 3.1; a part is one of ${componentKinds.join(', ')}` }]
    : []),
];

const releaseOf = (draft: Draft): Omit<CatalogueRelease, 'imageBytes'> => ({
  vendor: draft.vendor,
  family: draft.family,
  component: draft.component as ComponentKind,
  release: draft.release,
  published: draft.published,
  kind: draft.kind as CatalogueRelease['kind'],
  status: draft.status as CatalogueRelease['status'],
  ends: draft.ends || null,
  minimumMemoryBytes: sizeOf(draft.minimumMemoryBytes),
  minimumFlashBytes: sizeOf(draft.minimumFlashBytes),
  neededFlashBytes: sizeOf(draft.neededFlashBytes),
  minimumFrom: draft.minimumFrom || null,
  through: listOf(draft.through),
  minimumBoot: draft.minimumBoot || null,
  excludedModels: listOf(draft.excludedModels),
  hardware: pairsOf(draft.hardware).map(([model, revision]) => ({ model, revision })),
  others: pairsOf(draft.others).flatMap(([component, release]) =>
    isComponent(component) ? [{ component, release }] : [],
  ),
  needsCover: draft.needsCover === 'yes',
  image: draft.image,
  imageHash: draft.imageHash.toLowerCase(),
  fixes: listOf(draft.fixes),
});

/** Where a release of the catalogue stands in the API. */
export const releasePath = ({ vendor, family, component, release }: ReleaseName) =>
  `catalogue/${[vendor, family, release].map(encodeURIComponent).join('/')}${component === 'system' ? '' : `?${new URLSearchParams({ component }).toString()}`}`;

/** A release and what it needs, anew or as it is to be. */
export function ReleaseForm({
  editing,
  version,
  onDone,
}: {
  editing: CatalogueRelease | null;
  version: number | null;
  onDone: () => void;
}) {
  const written = useWritten();
  const saving = useSavingForm<Draft, { version: number }>({
    values: editing ? draftOf(editing) : blank,
    mistakes: mistakesOf,
    version: editing ? version : null,
    keep: `release ${editing ? releasePath(editing) : 'new'}`,
    fromKept: draftOf,
    save: (draft, seen) => {
      const body = releaseOf(draft);
      return editing
        ? call(releasePath(editing), { method: 'PUT', body, seen })
        : call('catalogue', { method: 'POST', body });
    },
    done: async (_, { release }) => {
      await written();
      if (editing) onDone();
      return editing ? undefined : { told: `${release} is in the catalogue.`, values: blank };
    },
  });
  return (
    <section className="section">
      <h3>{editing ? `Change ${editing.release}` : 'Add a release'}</h3>
      <SavingForm of={saving} prefix="release." style={{ marginTop: 8 }}>
        {!editing && (
          <div className="pair">
            <TextInput name="vendor" label="Maker" />
            <TextInput name="family" label="Family" help="of a part: its model" />
          </div>
        )}
        {!editing && <SelectInput name="component" label="Component" choices={componentKinds} />}
        <div className="pair">
          {!editing && <TextInput name="release" label="Release" />}
          <TextInput name="published" label="Published" help="like 2026-11-23" />
        </div>
        <div className="pair">
          <TextInput name="minimumMemoryBytes" label="Memory at least" help="like 512M or 2G; empty if any" />
          <TextInput name="neededFlashBytes" label="Free flash needed" help="like 96M; empty if any" />
        </div>
        <div className="pair">
          <TextInput name="minimumFrom" label="From at least" help="release from which one may go directly" />
          <TextInput name="minimumBoot" label="Boot code at least" />
        </div>
        <div className="pair">
          <SelectInput name="status" label="How its maker stands to it" choices={releaseStatuses} />
          <TextInput name="ends" label="Mended until" help="like 2027-06-30; empty if not known" />
        </div>
        <TextInput name="excludedModels" label="Not for these models" help="separated by commas" />
        <Fold
          title="More of it"
          says="what it is for, the way to it, hardware, image, what it mends"
          isWrong={folded.some((name) => saving.form.getFieldState(name).invalid)}
        >
          <SelectInput name="kind" label="What it is for" choices={releaseKinds} />
          <TextInput name="through" label="By way of" help="releases that must be run on the way, with commas" />
          <TextInput name="minimumFlashBytes" label="All flash together at least" help="like 256M; empty if any" />
          <TextInput name="hardware" label="Hardware at least" help="as K-Access 24 = B2, with commas" />
          <TextInput name="others" label="Other parts at least" help="as boot code = 3.1, with commas" />
          <TextInput name="image" label="Image" help="the name of its file" />
          <TextInput name="imageHash" label="SHA-256 of the image" />
          <TextInput name="fixes" label="What it mends" help="advisories or words, with commas" />
        </Fold>
        <SaveLine of={saving} words={editing ? 'Save the release' : 'Add to the catalogue'} variant="outlined">
          {editing && (
            <Button color="secondary" onClick={onDone}>
              Leave it
            </Button>
          )}
        </SaveLine>
      </SavingForm>
    </section>
  );
}

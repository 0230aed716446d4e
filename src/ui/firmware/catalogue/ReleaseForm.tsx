'use client';

import Button from '@mui/material/Button';
import type { CatalogueRelease } from '@/core/firmware/readiness';
import { formatBytes, parseQuantity } from '@/core/values/quantity';
import { SaveLine } from '../../components/form/SaveLine';
import { SavingForm } from '../../components/form/SavingForm';
import { TextInput } from '../../components/form/TextInput';
import { useSavingForm } from '../../components/form/useSavingForm';
import { useWritten } from '../../features/edits/useWritten';
import { call } from '../../lib/api';

const blank = {
  vendor: '',
  family: '',
  release: '',
  published: '',
  minimumMemoryBytes: '',
  neededFlashBytes: '',
  minimumFrom: '',
  minimumBoot: '',
  excludedModels: '',
};
type Draft = typeof blank;

const draftOf = (one: CatalogueRelease): Draft => ({
  vendor: one.vendor,
  family: one.family,
  release: one.release,
  published: one.published,
  minimumMemoryBytes: one.minimumMemoryBytes === null ? '' : formatBytes(one.minimumMemoryBytes),
  neededFlashBytes: one.neededFlashBytes === null ? '' : formatBytes(one.neededFlashBytes),
  minimumFrom: one.minimumFrom ?? '',
  minimumBoot: one.minimumBoot ?? '',
  excludedModels: one.excludedModels.join(', '),
});

const sizeOf = (text: string) => (text.trim() === '' ? null : parseQuantity(text, 'bytes'));

const mistakesOf = (draft: Draft) =>
  (['minimumMemoryBytes', 'neededFlashBytes'] as const).flatMap((path) =>
    draft[path].trim() !== '' && sizeOf(draft[path]) === null
      ? [{ path, message: 'Write a size like 512M or 2G' }]
      : [],
  );

const releaseOf = (draft: Draft, image: string): CatalogueRelease => ({
  vendor: draft.vendor,
  family: draft.family,
  release: draft.release,
  published: draft.published,
  minimumMemoryBytes: sizeOf(draft.minimumMemoryBytes),
  neededFlashBytes: sizeOf(draft.neededFlashBytes),
  minimumFrom: draft.minimumFrom || null,
  minimumBoot: draft.minimumBoot || null,
  excludedModels: draft.excludedModels
    .split(',')
    .map((model) => model.trim())
    .filter(Boolean),
  image,
});

/** Where a release of the catalogue stands in the API. */
export const releasePath = ({ vendor, family, release }: Pick<CatalogueRelease, 'vendor' | 'family' | 'release'>) =>
  `catalogue/${[vendor, family, release].map(encodeURIComponent).join('/')}`;

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
      const body = releaseOf(draft, editing?.image ?? '');
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
            <TextInput name="family" label="Family" />
          </div>
        )}
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
        <TextInput name="excludedModels" label="Not for these models" help="separated by commas" />
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

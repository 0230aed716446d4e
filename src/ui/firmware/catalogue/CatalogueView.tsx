'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { CatalogueRelease } from '@/core/firmware/catalogue';
import { Panel } from '../../components/Panel';
import { TextButton } from '../../components/TextButton';
import { UndoNote, type Done } from '../../features/edits/UndoNote';
import { useWritten } from '../../features/edits/useWritten';
import { CsvImport } from '../../features/imports/CsvImport';
import { ThingDossier } from '../../features/dossier/ThingDossier';
import { call, type ApiProblem } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { ListView } from '../ListView';
import { ReleaseForm, releasePath } from './ReleaseForm';

type Writing = 'new' | 'file' | 'change' | null;

/** As its row is known. */
const rowId = ({ vendor, family, component, release }: CatalogueRelease): string =>
  [vendor, family, release, ...(component === 'system' ? [] : [component])].join('\t');

/** Every release that is known, what it needs, and who runs it. */
export function CatalogueView() {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useWritten();
  const [writing, setWriting] = useState<Writing>(null);
  const [done, setDone] = useState<Done | null>(null);
  const catalogue = useQuery({
    queryKey: ['catalogue'],
    queryFn: () => call<{ rows: CatalogueRelease[]; version: number }>('catalogue'),
  });
  const chosen = /^release:(.*)$/s.exec(view.sel ?? '')?.[1] ?? null;
  const entry = catalogue.data?.rows.find((one) => rowId(one) === chosen) ?? null;
  const version = catalogue.data?.version ?? null;
  const remove = async (one: CatalogueRelease) => {
    try {
      const { edit } = await call<{ edit: number }>(releasePath(one), { method: 'DELETE', seen: version });
      setDone({ words: `${one.release} is out of the catalogue.`, edit });
      view.set({ sel: null });
    } catch (error) {
      setDone({ words: `${one.release}: ${(error as ApiProblem).words}` });
    }
    await written();
  };
  const close = () => {
    setWriting(null);
    view.set({ sel: null });
  };
  const isOpen = writing === 'new' || writing === 'file' || entry !== null || done !== null;
  return (
    <ListView
      thing="releases"
      current="releases"
      label="Catalogue"
      pictures={['family', 'component', 'status']}
      counted={(total) => `${total.toLocaleString('en')} ${total === 1 ? 'release' : 'releases'}`}
      hint="a family; status=withdrawn; runs>0"
      selected={chosen}
      onSelect={(id) => {
        setWriting(null);
        view.set({ sel: `release:${id}` });
      }}
      acts={
        mayEdit && (
          <>
            <TextButton onClick={() => setWriting('new')}>Add a release</TextButton>
            <TextButton onClick={() => setWriting('file')}>From a file</TextButton>
          </>
        )
      }
      empty={
        <>
          <h2>The catalogue is empty</h2>
          <p className="quiet">
            It says which releases there are and what each needs.{' '}
            {mayEdit && <TextButton onClick={() => setWriting('file')}>Take them from a file</TextButton>}
          </p>
        </>
      }
      panel={
        isOpen && (
          <Panel label="Release">
            <p className="small">
<TextButton onClick={close}>Close</TextButton>
</p>
            <UndoNote done={done} onDone={setDone} />
            {writing === 'file' && (
              <section className="section">
                <h2>Releases from a file</h2>
                <CsvImport name="catalogue" />
              </section>
            )}
            {writing === 'new' && <ReleaseForm key="new" editing={null} version={version} onDone={close} />}
            {entry && writing === 'change' && (
              <ReleaseForm
                key={releasePath(entry)}
                editing={entry}
                version={version}
                onDone={() => setWriting(null)}
              />
            )}
            {entry && (writing === null || writing === 'change') && (
              <>
                {writing === null && mayEdit && (
                  <p className="small">
                    <TextButton
                      aria-label={`Change the release ${entry.release} of ${entry.vendor} ${entry.family}`}
                      onClick={() => setWriting('change')}
                    >
                      Change
                    </TextButton>{' '}
                    ·{' '}
                    <TextButton
                      aria-label={`Remove the release ${entry.release} of ${entry.vendor} ${entry.family}`}
                      onClick={() => void remove(entry)}
                    >
                      Remove
                    </TextButton>
                  </p>
                )}
                <ThingDossier thing="releases" id={rowId(entry)} />
              </>
            )}
          </Panel>
        )
      }
    />
  );
}

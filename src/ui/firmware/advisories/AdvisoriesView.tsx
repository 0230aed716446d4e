'use client';

import { useState } from 'react';
import { Panel } from '../../components/Panel';
import { TextButton } from '../../components/TextButton';
import { AnyDossier } from '../../features/dossier/AnyDossier';
import { CsvImport } from '../../features/imports/CsvImport';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { ListView } from '../ListView';

/** What makers say is wrong with their releases, and how much of the estate runs one of them. */
export function AdvisoriesView() {
  const view = useView();
  const mayEdit = useMayEdit();
  const [isTaking, setTaking] = useState(false);
  const chosen = /^advisory:(.*)$/s.exec(view.sel ?? '')?.[1] ?? null;
  const close = () => {
    setTaking(false);
    view.set({ sel: null });
  };
  return (
    <ListView
      thing="advisories"
      current="advisories"
      label="Advisories"
      pictures={['severity', 'products', 'publisher']}
      counted={(total) => `${total.toLocaleString('en')} ${total === 1 ? 'advisory' : 'advisories'}`}
      hint="a number; severity=critical; exposed>0"
      selected={chosen}
      onSelect={(id) => {
        setTaking(false);
        view.set({ sel: `advisory:${id}` });
      }}
      acts={mayEdit && <TextButton onClick={() => setTaking(true)}>From a file</TextButton>}
      empty={
        <>
          <h2>No advisory is known yet</h2>
          <p className="quiet">
            Makers publish what is wrong with their releases as CSAF 2.0 or OSV. Once taken in, each device that runs
            one of them is told.{' '}
            {mayEdit && <TextButton onClick={() => setTaking(true)}>Take them from a file</TextButton>}
          </p>
        </>
      }
      panel={
        (isTaking || chosen !== null) && (
          <Panel label="Advisory">
            <p className="small">
              <TextButton onClick={close}>Close</TextButton>
            </p>
            {isTaking ? (
              <section className="section">
                <h2>Advisories from a file</h2>
                <CsvImport name="advisories" />
              </section>
            ) : (
              chosen !== null && <AnyDossier thing="advisories" id={chosen} />
            )}
          </Panel>
        )
      }
    />
  );
}

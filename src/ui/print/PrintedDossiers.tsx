'use client';

import { useState } from 'react';
import { sealedOf, useSurveys } from '../lib/useSurveys';
import { useView } from '../lib/useView';
import { DeviceDossier } from '../features/dossier/DeviceDossier';
import { moment } from '../lib/format';
import { ProblemNote } from '../components/ProblemNote';
import { useChosenRows } from './useChosenRows';
import { CheckBox } from '../components/CheckBox';
import { Choices } from '../components/Choices';
import { PrintedBy } from '../components/PrintedBy';
import { TextButton } from '../components/TextButton';

/** More dossiers than this are a handbook, not a printout. */
const mostDossiers = 100;

/** Dossiers of many devices on paper, brief or whole, each on a page of its own; rows that were marked are marked here too. */
export function PrintedDossiers({ by }: { by: string }) {
  const view = useView();
  const [brief, setBrief] = useState(true);
  const [marksWanted, setMarksWanted] = useState(false);
  const all = useChosenRows('devices', mostDossiers, false);
  const own = useChosenRows('devices', mostDossiers, true);
  const sealed = sealedOf(useSurveys().data);
  const onlyMarked = marksWanted && all.marked > 0;
  const { rows, total } = onlyMarked ? own : all;
  if (all.error)
    return (
      <main className="paper">
        <ProblemNote problem={all.error} />
      </main>
    );
  if (!rows)
    return (
      <main className="paper">
        <p>reading the devices…</p>
      </main>
    );
  const at = moment(
    (view.survey === null ? sealed.at(-1) : sealed.find(({ id }) => String(id) === view.survey))?.startedAt ?? '',
  );
  return (
    <main className="paper dossiers">
      <div className="screen-only">
        <h1>
          Dossiers <span className="count">{rows.length}</span>
        </h1>
        <div className="formacts">
          <Choices
            label="Length"
            name="length"
            value={brief ? 'brief' : 'whole'}
            choices={[
              { value: 'brief', words: 'brief' },
              { value: 'whole', words: 'whole' },
            ]}
            onChange={(length) => setBrief(length === 'brief')}
          />
          {all.marked > 0 && (
            <CheckBox
              label={`only the ${all.marked === 1 ? 'device' : `${all.marked} devices`} I marked`}
              checked={marksWanted}
              onChange={setMarksWanted}
            />
          )}{' '}
          <TextButton onClick={() => window.print()}>Print</TextButton>
          {total > mostDossiers && (
            <span className="quiet">
              {' '}
              The first {mostDossiers} of {total.toLocaleString('en')}: narrow the table first.
            </span>
          )}
        </div>
      </div>
      {rows.map(({ id }) => (
        <article key={id} className={brief ? 'brief' : 'whole'}>
          <DeviceDossier id={id} {...(!brief && { whole: true })} paper />
          <p className="about">
            As of {at}. <PrintedBy by={by} />
          </p>
        </article>
      ))}
      {rows.length === 0 && <p>No device fits.</p>}
    </main>
  );
}

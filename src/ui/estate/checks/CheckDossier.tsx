'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import { rowWords } from '@/core/things/rowWords';
import { things } from '@/core/things/things';
import { Link } from '@/ui/components/Link';
import { useFocusBack } from '../../lib/useFocusBack';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import { useThingPage } from '../../components/table/thingPages';
import { Glyph } from '../../components/Glyph';
import { useMayEdit } from '../../lib/person';
import { CheckForm } from './CheckForm';
import { tellDone } from '../../features/edits/doneTray';
import { useUndo } from '../../features/edits/useUndo';
import { UndoNote, type Done } from '../../features/edits/UndoNote';
import { useWritten } from '../../features/edits/useWritten';
import { bodyOf, type CheckRow } from './useChecks';

const shownRows = 12;

/** One check: what it asks for, why, what to do, and what it finds. */
export function CheckDossier({ check, momentOf }: { check: CheckRow; momentOf: (survey: number) => string }) {
  const view = useView();
  const mayEdit = useMayEdit();
  const written = useWritten();
  const undo = useUndo();
  const [editing, setEditing] = useState(false);
  const [done, setDone] = useState<Done | null>(null);
  const opener = useFocusBack(editing);
  const found = useThingPage(
    check.thing,
    { survey: view.survey, where: check.filter, page: 1, size: shownRows },
    check.fault === '',
  );
  const act = async (words: string, method: 'PUT' | 'DELETE', body?: object) => {
    try {
      const init = { method, seen: check.version, ...(body && { body }) };
      const { edit } = await call<{ edit?: number }>(`checks/${check.id}`, init);
      if (method === 'DELETE' && check.origin === 'own')
        tellDone(words, edit === undefined ? undefined : () => undo(edit));
      else setDone({ words, edit });
    } catch (error) {
      setDone({ words: (error as ApiProblem).words });
    }
    await written();
  };
  if (editing) return <CheckForm editing={check} onDone={() => setEditing(false)} />;
  const table = view.href('/estate', {
    of: check.thing === 'devices' ? null : check.thing,
    where: check.filter,
    sel: null,
  });
  return (
    <>
      <div className="small quiet">
        {check.severity} check of {things[check.thing].title.toLowerCase()}
        {check.origin === 'library'
          ? ', of the library'
          : check.origin === 'changed'
            ? ', of the library, changed'
            : ''}
      </div>
      <h2>{check.name}</h2>
      <p style={{ margin: '8px 0' }}>{check.why}</p>
      {check.fault ? (
        <p role="alert" className="bad">
          <Glyph name="fault" word="cannot be judged" /> {check.fault}
        </p>
      ) : (
        <section className="section">
          <h3>
            {check.failing === 0 ? (
              <span className="state">
                <Glyph name="up" word="holds" />
                Nothing is found
              </span>
            ) : (
              <span className="state">
                <Glyph name="fault" word="fails" />
                {check.failing === null ? 'Now' : `${check.failing.toLocaleString('en')} found`}
                {check.failingSince !== null && `, since ${momentOf(check.failingSince)}`}
              </span>
            )}
          </h3>
          {check.excused ? <p className="small quiet">{check.excused} more of devices in maintenance.</p> : null}
          {(found.data?.total ?? 0) > 0 && (
            <>
              <ul className="lines">
                {found.data?.rows.map((row) => (
                  <li key={row.id}>{rowWords(check.thing, row)}</li>
                ))}
              </ul>
              <p className="small">
                <Link href={table}>
                  {(found.data?.total ?? 0) > shownRows
                    ? `all ${found.data?.total.toLocaleString('en') ?? ''} in the table`
                    : 'in the table'}
                </Link>
              </p>
            </>
          )}
        </section>
      )}
      {check.remedy && (
        <section className="section">
          <h3>What to do</h3>
          <p>{check.remedy}</p>
        </section>
      )}
      <section className="section">
        <h3>The rule</h3>
        <p className="small quiet">Nothing among {things[check.thing].title.toLowerCase()} may fit</p>
        <p className="mono" style={{ overflowWrap: 'anywhere' }}>
          {check.where}
        </p>
        {check.scope && (
          <>
            <p className="small quiet" style={{ marginTop: 6 }}>
              of devices that fit
            </p>
            <p className="mono">{check.scope}</p>
          </>
        )}
      </section>
      {mayEdit && (
        <div style={{ display: 'flex', gap: 8, marginTop: 12, flexWrap: 'wrap' }}>
          <Button ref={opener} variant="outlined" onClick={() => setEditing(true)}>
            Change
          </Button>
          <Button
            color="secondary"
            onClick={() =>
              void act(
                check.on ? 'It is off: no survey judges it.' : 'It is on: it is judged at once and at every survey.',
                'PUT',
                { ...bodyOf(check), on: !check.on },
              )
            }
          >
            {check.on ? 'Switch off' : 'Switch on'}
          </Button>
          {check.origin === 'changed' && (
            <Button color="secondary" onClick={() => void act('It is as it came.', 'DELETE')}>
              As it came
            </Button>
          )}
          {check.origin === 'own' && (
            <Button color="secondary" onClick={() => void act(`“${check.name}” is deleted.`, 'DELETE')}>
              Delete the check
            </Button>
          )}
        </div>
      )}
      <UndoNote done={done} onDone={setDone} />
    </>
  );
}

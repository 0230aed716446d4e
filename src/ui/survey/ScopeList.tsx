'use client';

import Button from '@mui/material/Button';
import { useState, type ReactNode } from 'react';
import { calendarWords } from '@/core/estate/surveyCalendar';
import { Glyph } from '../components/Glyph';
import { TextButton } from '../components/TextButton';
import { UndoNote, type Done } from '../features/edits/UndoNote';
import { useWritten } from '../features/edits/useWritten';
import type { SavedScope } from '../features/survey/savedRows';
import { useScopes } from '../features/survey/useScopes';
import { call, type ApiProblem } from '../lib/api';
import { moment } from '../lib/format';
import { useMayEdit } from '../lib/person';

/** What surveys ask, and when. */
export function ScopeList({
  hasCredentials,
  isNext,
  onChange,
  onRun,
  children,
}: {
  hasCredentials: boolean;
  /** to add one is what is to be done next */
  isNext: boolean;
  onChange: (scope: SavedScope | 'new') => void;
  onRun: (id: number) => void;
  children: ReactNode;
}) {
  const mayEdit = useMayEdit();
  const written = useWritten();
  const { data: scopes } = useScopes();
  const [done, setDone] = useState<Done | null>(null);
  const remove = async ({ id, scope, version }: SavedScope) => {
    try {
      const { edit } = await call<{ edit: number }>(`scopes/${id}`, { method: 'DELETE', seen: version });
      setDone({ words: `Deleted the scope “${scope.name}”.`, edit });
    } catch (error) {
      setDone({ words: (error as ApiProblem).words });
    }
    await written();
  };
  return (
    <section>
      <h2 className="sub">Scopes: what is asked</h2>
      {scopes?.length === 0 && (
        <p className="quiet">
          No scope yet.{' '}
          {hasCredentials
            ? 'Add one with the address ranges of your network.'
            : 'First add a credential, then a scope with the address ranges of your network.'}
        </p>
      )}
      <ul className="lines">
        {scopes?.map((saved) => (
          <li key={saved.id} style={{ justifyContent: 'space-between' }}>
            <ScopeWords saved={saved} />
            {mayEdit && (
              <div style={{ display: 'flex', gap: 10, alignItems: 'center', flex: 'none' }}>
                <TextButton aria-label={`Change the scope ${saved.scope.name}`} onClick={() => onChange(saved)}>
                  Change
                </TextButton>
                <TextButton aria-label={`Delete the scope ${saved.scope.name}`} onClick={() => void remove(saved)}>
                  Delete
                </TextButton>
                <Button variant="contained" onClick={() => onRun(saved.id)}>
                  Run now
                </Button>
              </div>
            )}
          </li>
        ))}
      </ul>
      <UndoNote done={done} onDone={setDone} />
      {mayEdit && (
        <p style={{ marginTop: 10 }}>
          <Button variant={isNext ? 'contained' : 'outlined'} onClick={() => onChange('new')}>
            Add a scope
          </Button>
        </p>
      )}
      {children}
    </section>
  );
}

function ScopeWords({ saved: { scope, calendar } }: { saved: SavedScope }) {
  const { name, ranges, exclusions, translations, collectors, group, credentials, schedule, quietHours } = scope;
  return (
    <div>
      <b style={{ fontWeight: 600 }}>{name}</b>
      <div className="small mono quiet">{ranges.join(', ')}</div>
      {exclusions.length > 0 && (
        <div className="small quiet">
          without <span className="mono">{exclusions.join(', ')}</span>
        </div>
      )}
      {translations.map((line) => (
        <div key={line} className="small quiet mono">
          {line}
        </div>
      ))}
      {collectors.length > 0 && <div className="small quiet">asked by {collectors.join(' and ')}</div>}
      {group && (
        <div className="small quiet">
          only devices of <b>{group}</b>
        </div>
      )}
      <div className="small quiet">tries {credentials.join(', then ')}</div>
      {schedule && (
        <div className="small quiet">
          {calendarWords(schedule)}
          {quietHours.length > 0 && `, quiet ${quietHours.join(', ')}`}:{' '}
          {calendar.nextAt ? `next ${moment(calendar.nextAt)}` : 'never due again'}
        </div>
      )}
      {calendar.missed.map(({ dueAt, outcome }) => (
        <div key={dueAt} className="small">
          <Glyph name="fault" word="missed" /> not surveyed {moment(dueAt)}:{' '}
          {outcome === 'busy' ? 'another survey was still at work' : 'Bolide was not running'}
        </div>
      ))}
    </div>
  );
}

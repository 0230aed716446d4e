'use client';

import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { compareAddresses } from '@/core/values/ipAddress';
import { useView } from '../../lib/useView';
import { call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { WaitingSurveys } from './WaitingSurveys';
import { Glyph, outcomeGlyph } from '../../components/Glyph';

interface Progress {
  id: number;
  state: string;
  phase: string;
  scopeName: string;
  asked: number;
  done: number;
  answered: number;
  silent: number;
  secondsLeft: number | null;
  cancelRequested: boolean;
  error: string | null;
}
interface Visit {
  address: string;
  seq: number;
  state: string;
  outcome: string | null;
  credential: string | null;
  reason: string | null;
  remedy: string | null;
  phases: Record<string, number> | null;
  seconds: number | null;
}

/** A running survey, address by address as it happens. */
export function LiveSurvey({ surveyId }: { surveyId: number | null }) {
  const mayEdit = useMayEdit();
  const view = useView();
  const client = useQueryClient();
  const [progress, setProgress] = useState<Progress | null>(null);
  const [visits, setVisits] = useState<Map<string, Visit>>(new Map());
  useEffect(() => {
    if (surveyId === null) return undefined;
    const events = new EventSource(`/api/v1/surveys/${surveyId}/events`);
    events.addEventListener('visits', (event) => {
      const changed = JSON.parse((event as MessageEvent<string>).data) as Visit[];
      setVisits((before) => new Map([...before, ...changed.map((visit): [string, Visit] => [visit.address, visit])]));
    });
    events.addEventListener('progress', (event) => {
      const next = JSON.parse((event as MessageEvent<string>).data) as Progress;
      setProgress(next);
      if (next.state === 'running') return;
      events.close();
      view.set({ past: String(surveyId), survey: null });
      void client.invalidateQueries();
    });
    return () => events.close();
    // the view changes with every step; the stream belongs to the survey alone
    // oxlint-disable-next-line react/exhaustive-deps
  }, [surveyId]);
  const rows = [...visits.values()].sort(
    (x, y) => Number(x.outcome === 'silent') - Number(y.outcome === 'silent') || compareAddresses(x.address, y.address),
  );
  const share = progress && progress.asked > 0 ? (100 * progress.done) / progress.asked : 0;
  return (
    <>
      <div className="titleline">
        <h1>{progress ? `Survey ${progress.id} is running` : 'The survey begins'}</h1>
        <span className="quiet" aria-live="polite">
          {progress
            ? `${progress.phase === 'conclude' ? 'concluding links and places' : `${progress.done} of ${progress.asked} addresses`}, ${progress.answered} answered, ${progress.silent} silent${progress.secondsLeft !== null ? `, about ${progress.secondsLeft} s left` : ''}`
            : 'waiting for the engine'}
        </span>
        <span className="end">
          {mayEdit && (
            <Button
              color="secondary"
              disabled={surveyId === null || (progress?.cancelRequested ?? false)}
              onClick={() => void call(`surveys/${surveyId}/cancel`, { method: 'POST' })}
            >
              {progress?.cancelRequested ? 'cancelling…' : 'Cancel'}
            </Button>
          )}
        </span>
      </div>
      <WaitingSurveys />
      <div
        className="progress"
        role="progressbar"
        aria-label="Addresses done"
        aria-valuenow={Math.round(share)}
        aria-valuemin={0}
        aria-valuemax={100}
      >
        <i style={{ width: `${share}%` }} />
      </div>
      <div className="work scrolls" style={{ padding: '0 16px 20px' }}>
        <table className="plain">
          <thead>
            <tr>
              <th style={{ width: 120 }}>Address</th>
              <th style={{ width: 110 }}>Outcome</th>
              <th style={{ width: 150 }}>Credential</th>
              <th style={{ width: 90 }}>Took</th>
              <th>Phases</th>
              <th>Reason and what to do</th>
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, 600).map((visit) => (
              <tr key={visit.address}>
                <td className="mono">{visit.address}</td>
                <td>
                  <span className="state">
                    <Glyph name={visit.outcome ? outcomeGlyph(visit.outcome) : 'unknown'} />
                    {visit.outcome ?? 'asking'}
                  </span>
                </td>
                <td>{visit.credential}</td>
                <td className="mono">{visit.seconds === null ? '' : `${visit.seconds.toFixed(2)} s`}</td>
                <td className="small quiet">
                  {visit.phases &&
                    visit.outcome !== 'silent' &&
                    ['probe', 'collect', 'commit']
                      .flatMap((phase) =>
                        visit.phases?.[phase] === undefined ? [] : [`${phase} ${visit.phases[phase].toFixed(2)}`],
                      )
                      .join(' · ')}
                </td>
                <td className="small">
                  {visit.reason}
                  {visit.reason && visit.outcome !== 'silent' && <span className="quiet"> {visit.remedy}</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

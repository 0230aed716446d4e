'use client';

import { useQueryClient } from '@tanstack/react-query';
import { PlainSelect } from '../../components/PlainSelect';
import { TextButton } from '../../components/TextButton';
import { call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useSurveys } from '../../lib/useSurveys';
import { useScopes } from './useScopes';

/** Surveys that wait for the one at work; another can be put behind them, and each be taken out. */
export function WaitingSurveys() {
  const mayEdit = useMayEdit();
  const client = useQueryClient();
  const { data } = useSurveys();
  const { data: scopes } = useScopes();
  const waiting = data?.waiting ?? [];
  const again = () => client.invalidateQueries({ queryKey: ['surveys'] });
  const queue = (scopeId: number) => call('surveys', { method: 'POST', body: { scopeId } }).then(again, again);
  const takeOut = (jobId: number) => call(`jobs/${jobId}/cancel`, { method: 'POST', body: {} }).then(again, again);
  if (waiting.length === 0 && !mayEdit) return null;
  return (
    <div className="waitingline small">
      {waiting.length > 0 && <span className="quiet">Then, each in its turn:</span>}
      {waiting.map(({ jobId, words }) => (
        <span key={jobId}>
          {words}{' '}
          {mayEdit && (
            <TextButton aria-label={`Take ${words} out`} onClick={() => void takeOut(jobId)}>
              take out
            </TextButton>
          )}
        </span>
      ))}
      {mayEdit && (
        <PlainSelect
          aria-label="Survey another scope after it"
          value=""
          onChange={({ target }) => target.value && void queue(Number(target.value))}
        >
          <option value="">survey another scope after it…</option>
          {scopes?.map(({ id, scope }) => (
            <option key={id} value={id}>
              {scope.name}
            </option>
          ))}
        </PlainSelect>
      )}
    </div>
  );
}

'use client';

import { TextButton } from '../components/TextButton';
import { moment } from '../lib/format';
import type { SurveyRow } from '../lib/useSurveys';

/** Surveys that are over, newest first, and what came of each. */
export function PastList({ surveys, onOpen }: { surveys: SurveyRow[]; onOpen: (id: number) => void }) {
  if (surveys.length === 0) return <p className="quiet">None yet.</p>;
  return (
    <table className="plain" style={{ maxWidth: 980 }}>
      <thead>
        <tr>
          <th>Survey</th>
          <th>Began</th>
          <th>Scope</th>
          <th>State</th>
          <th>Answered</th>
          <th>Devices</th>
          <th>New</th>
          <th>Changed</th>
          <th>Replaced</th>
          <th>Silent</th>
          <th>Took</th>
        </tr>
      </thead>
      <tbody>
        {surveys.map(({ id, startedAt, scopeName, state, summary }) => (
          <tr key={id}>
            <td>
              <TextButton onClick={() => onOpen(id)}>{id}</TextButton>
            </td>
            <td>{moment(startedAt)}</td>
            <td>{scopeName}</td>
            <td>{state}</td>
            <td>{summary ? `${summary.addresses.answered} of ${summary.addresses.asked}` : '–'}</td>
            <td>{summary?.devices.found ?? '–'}</td>
            <td>{summary?.devices.new ?? '–'}</td>
            <td>{summary?.devices.changed ?? '–'}</td>
            <td>{summary?.devices.replaced ?? '–'}</td>
            <td>{summary?.devices.silent ?? '–'}</td>
            <td>{summary ? `${summary.seconds.toFixed(1)} s` : '–'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

'use client';

import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { Glyph, verdictGlyph } from '../../components/Glyph';
import { Link } from '../../components/Link';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';
import type { DraftDifference } from './targetTypes';

const shown = 60;

/** What would be otherwise if a draft were in force, and the ways to have it so or not. */
export function DraftChanges({
  name,
  mayEdit,
  onApply,
  onGiveUp,
}: {
  name: string;
  mayEdit: boolean;
  onApply: () => void;
  onGiveUp: () => void;
}) {
  const view = useView();
  const { data, error } = useQuery<DraftDifference, ApiProblem>({
    queryKey: ['target-drafts', name, 'difference'],
    queryFn: ({ signal }) => call<DraftDifference>(`target-drafts/${encodeURIComponent(name)}/difference`, { signal }),
  });
  if (error) return <ProblemNote problem={error} />;
  if (!data) return <p className="quiet">working out what would change…</p>;
  const moved = data.counts.filter(({ before, after }) => before !== after);
  return (
    <section aria-label={`What the draft ${name} would change`}>
      <h2 className="listhead">
        {data.changed === 0 ? 'It would change nothing' : `It would change ${data.changed} of what has a target`}
      </h2>
      {moved.length > 0 && (
        <p>
          {moved.map(({ verdict, before, after }, at) => (
            <span key={verdict} style={{ whiteSpace: 'nowrap' }}>
              {at > 0 && ' · '}
              <Glyph name={verdictGlyph(verdict)} word={verdict} /> {verdict} {before} → <b>{after}</b>
            </span>
          ))}
        </p>
      )}
      {mayEdit && (
        <p className="formacts">
          <Button variant="contained" onClick={onApply}>
            Put it in force
          </Button>
          <TextButton onClick={onGiveUp}>Give it up</TextButton>
        </p>
      )}
      {data.changes.length > 0 && (
        <table className="plain">
          <thead>
            <tr>
              <th>Device</th>
              <th>Component</th>
              <th>Runs</th>
              <th>Target now</th>
              <th>Then</th>
              <th>Then it is</th>
              <th>Why</th>
            </tr>
          </thead>
          <tbody>
            {data.changes.slice(0, shown).map((change) => (
              <tr key={change.id}>
                <td>
                  <Link href={view.href('/estate', { of: null, sel: `device:${change.deviceId}`, where: null })}>
                    {change.device}
                  </Link>
                </td>
                <td>{change.component}</td>
                <td className="mono">{change.current || 'not known'}</td>
                <td className="mono">{change.before?.target ?? 'none'}</td>
                <td className="mono">{change.after.target}</td>
                <td style={{ whiteSpace: 'nowrap' }}>
                  <Glyph name={verdictGlyph(change.after.verdict)} word={change.after.verdict} /> {change.after.verdict}
                </td>
                <td className="small">{change.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {data.changed > shown && <p className="quiet small">and {data.changed - shown} more</p>}
    </section>
  );
}

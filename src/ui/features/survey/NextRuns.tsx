'use client';

import { useQuery } from '@tanstack/react-query';
import { call, type ApiProblem } from '../../lib/api';
import { moment } from '../../lib/format';

/** When a calendar is due next, as the server reckons it, before it is saved. */
export function NextRuns({ schedule, quietHours }: { schedule: string; quietHours: readonly string[] }) {
  const query = new URLSearchParams({ schedule, quietHours: quietHours.join(',') }).toString();
  const { data } = useQuery<{ rows: string[]; zone: string }, ApiProblem>({
    queryKey: ['calendar', query],
    queryFn: ({ signal }) => call(`calendar?${query}`, { signal }),
    enabled: schedule !== '',
  });
  if (!data) return null;
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return (
    <div aria-live="polite">
      <p className="small quiet">
        {data.rows.length === 0 ? 'It would never run: quiet hours take every one.' : 'The next runs:'}
      </p>
      <ol className="runs">
        {data.rows.map((run) => (
          <li key={run}>{moment(run)}</li>
        ))}
      </ol>
      {data.zone !== here && (
        <p className="small quiet">
          Days and times above are those of the server ({data.zone}); the runs are told in yours ({here}).
        </p>
      )}
    </div>
  );
}

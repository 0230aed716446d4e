'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from '../../components/Link';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';
import { ThingLink } from '../ThingLink';
import type { NamedThing } from './useRehearsal';

interface Stop extends NamedThing {
  applications: { id: string; name: string; criticality: string }[];
  devices: number;
  endpoints: number;
}

const firstShown = 12;
const counted = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;

/** What stands alone, what costs most if it goes first: the place to begin where nothing is named yet. */
export function SingleStops() {
  const view = useView();
  const [all, setAll] = useState(false);
  const { data, error } = useQuery<{ rows: Stop[] }, ApiProblem>({
    queryKey: ['single-stops', view.survey],
    queryFn: ({ signal }) => call(`single-stops${view.survey ? `?survey=${view.survey}` : ''}`, { signal }),
  });
  if (error) return <ProblemNote problem={error} />;
  if (!data) return <p className="quiet">looking for what stands alone…</p>;
  const { rows } = data;
  if (rows.length === 0)
    return <p className="quiet">Nothing stands alone: whatever single thing goes, nothing else is lost.</p>;
  return (
    <section aria-label="What stands alone">
      <h3>What stands alone, what costs most first</h3>
      <ol className="sentences">
        {(all ? rows : rows.slice(0, firstShown)).map((row) => (
          <li key={`${row.kind} ${row.id}`}>
            <ThingLink thing={row} />{' '}
            <span className="why">
              {row.applications.length > 0 && (
                <>
                  stops{' '}
                  {row.applications.map(({ id, name, criticality }, at) => (
                    <span key={id}>
                      {at > 0 && ', '}
                      <Link href={view.href('/dependencies', { of: 'applications', host: id, sel: null })}>
                        {name}
                      </Link>{' '}
                      ({criticality})
                    </span>
                  ))}
                </>
              )}
              {row.applications.length > 0 && row.devices + row.endpoints > 0 && '; '}
              {[
                row.devices > 0 && counted(row.devices, 'device'),
                row.endpoints > 0 && counted(row.endpoints, 'endpoint'),
              ]
                .filter(Boolean)
                .join(' and ')}
              {row.devices + row.endpoints > 0 && ' lost with it'}.
            </span>{' '}
            <TextButton aria-label={`Rehearse ${row.name}`} onClick={() => view.set({ down: `${row.kind}:${row.id}` })}>
              Rehearse
            </TextButton>
          </li>
        ))}
      </ol>
      {!all && rows.length > firstShown && (
        <TextButton onClick={() => setAll(true)}>{rows.length - firstShown} more</TextButton>
      )}
    </section>
  );
}

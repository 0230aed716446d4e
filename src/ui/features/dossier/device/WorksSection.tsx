'use client';

import { useQuery } from '@tanstack/react-query';
import { Glyph } from '../../../components/Glyph';
import { call } from '../../../lib/api';
import { moment } from '../../../lib/format';
import type { SectionProps } from './dossierTypes';

interface TouchingWork {
  id: number;
  kind: string;
  title: string;
  who: string;
  from: string;
  until: string | null;
  state: string;
  fate: 'down' | 'lost' | 'degraded';
  why: string;
}

const fateWords = { down: 'it is worked at', lost: 'it would be lost', degraded: 'it would lose a spare' } as const;

/** Works and incidents, planned or under way, that are on a device or would take it down or its spare. */
export function WorksSection({ id, paper }: SectionProps) {
  const { data } = useQuery<{ rows: TouchingWork[] }>({
    queryKey: ['works-touching', id],
    enabled: !paper,
    queryFn: () => call(`works/touching?${new URLSearchParams({ thing: `device:${id}` }).toString()}`),
  });
  const rows = data?.rows ?? [];
  if (rows.length === 0) return null;
  return (
    <section className="section">
      <h3>Planned works and incidents</h3>
      <ul className="plainlist">
        {rows.map(({ id: work, kind, title, who, from, until, state, fate, why }) => (
          <li key={work}>
            <span className="state">
              <Glyph name={fate === 'degraded' ? 'later' : 'fault'} />
              {title}
            </span>{' '}
            <span className="quiet small">
              {kind}, {state}; {moment(from)}
              {until && ` to ${moment(until)}`}
              {who && `; ${who}`}. During it {fateWords[fate]}
              {why && `: ${why}`}.
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

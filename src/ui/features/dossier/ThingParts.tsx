'use client';

import { useQuery } from '@tanstack/react-query';
import type { ThingName } from '@/core/things/things';
import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import { call, type ApiProblem, type ThingRow } from '../../lib/api';
import { moment } from '../../lib/format';
import { Glyph } from '../../components/Glyph';

interface ThingDossierAnswer {
  /** in which it was read */
  version: number;
  row: ThingRow;
  near: { words: string; thing: ThingName; where: string; total: number }[];
  history: { at: string; words: string; before: string; after: string }[];
  failing: {
    key: string;
    name: string;
    severity: 'severe' | 'moderate' | 'minor';
    why: string;
    remedy: string;
    of: string[];
  }[];
}

export function useThingDossier(thing: ThingName, id: string) {
  const { survey } = useView();
  return useQuery<ThingDossierAnswer, ApiProblem>({
    queryKey: ['one', thing, id, survey],
    queryFn: ({ signal }) =>
      call<ThingDossierAnswer>(`${thing}/${encodeURIComponent(id)}/dossier${survey ? `?survey=${survey}` : ''}`, {
        signal,
      }),
    retry: false,
  });
}

/** Checks that fail at it, or at what lies there: what is wrong, why it matters, what to do. */
export function Failing({ failing }: { failing: ThingDossierAnswer['failing'] }) {
  if (failing.length === 0) return null;
  return (
    <section className="section">
      <h3>Checks that fail here</h3>
      {failing.map(({ key, name, severity, why, remedy, of }) => (
        <div key={key} style={{ padding: '3px 0' }}>
          <span className="state">
            <Glyph name={severity === 'minor' ? 'later' : 'fault'} word={severity} />
            {name}
          </span>
          {of.map((words) => (
            <div key={words} className="small">
              <b style={{ fontWeight: 550 }}>{words}</b>
            </div>
          ))}
          <div className="small quiet">
            {why} {remedy}
          </div>
        </div>
      ))}
    </section>
  );
}

/** Tables that say more. */
export function Near({ near }: { near: ThingDossierAnswer['near'] }) {
  const view = useView();
  if (near.length === 0) return null;
  return (
    <section className="section">
      <h3>Near it</h3>
      <table className="plain">
        <tbody>
          {near.map(({ words, thing, where, total }) => (
            <tr key={words}>
              <td>
                <Link
                  href={
                    thing === 'ledger'
                      ? view.href('/ledger', { where, sel: null })
                      : view.href('/estate', { of: thing === 'devices' ? null : thing, where, sel: null })
                  }
                >
                  {words}
                </Link>
              </td>
              <td className="number">{total.toLocaleString('en')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

export function ThingHistory({ history }: { history: ThingDossierAnswer['history'] }) {
  if (history.length === 0) return null;
  return (
    <section className="section">
      <h3>History</h3>
      <ul className="small">
        {history.slice(0, 60).map(({ at, words, before, after }, nth) => (
          <li key={nth} style={{ padding: '2px 0' }}>
            <span className="quiet">{moment(at)}</span> {words}
            {(before || after) && (
              <span className="mono">
                {' '}
                {before || 'nothing'} → {after || 'nothing'}
              </span>
            )}
          </li>
        ))}
      </ul>
      {history.length > 60 && <p className="small quiet">and {history.length - 60} older</p>}
    </section>
  );
}

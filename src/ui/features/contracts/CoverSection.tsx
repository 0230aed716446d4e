'use client';

import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import { wholeDay } from '../../lib/format';
import { Glyph } from '../../components/Glyph';
import { coverGlyph, type CoverState } from './coverGlyph';
import { useMayEdit } from '../../lib/person';

interface CoveredSerial {
  serial: string;
  what: string;
  state: CoverState;
  until: string | null;
  daysLeft: number | null;
  by: { number: string; kind: string; supplier: string; level: string; contact: string; until: string | null }[];
}

export interface DeviceCover {
  units: CoveredSerial[];
  parts: CoveredSerial[];
}

const days = (count: number) => (count === 1 ? '1 day' : `${count.toLocaleString('en')} days`);

/** How long cover lasts, in words: `covered until Mon 23 Nov 2026, 12 days left`. */
export function coverWords({ state, until, daysLeft }: Pick<CoveredSerial, 'state' | 'until' | 'daysLeft'>): string {
  switch (state) {
    case 'none':
      return 'no contract names it';
    case 'coming':
      return 'its cover has not begun';
    case 'ended':
      return `ended ${until ? `on ${wholeDay(until)}, ${daysLeft === null ? '' : `${days(-daysLeft)} ago`}` : ''}`;
    default:
      return until === null || daysLeft === null
        ? 'covered, without an end'
        : `${state === 'ending' ? 'ends' : 'covered until'} ${state === 'ending' ? `on ${wholeDay(until)}` : wholeDay(until)}, ${daysLeft === 0 ? 'today' : `${days(daysLeft)} left`}`;
  }
}

/** Who mends it, and until when: of each unit, and of the parts that have a contract of their own. */
export function CoverSection({ cover: { units, parts }, paper = false }: { cover: DeviceCover; paper?: boolean }) {
  const view = useView();
  const mayEdit = useMayEdit();
  if (units.length === 0) return null;
  const bare = [...units, ...parts].every(({ state }) => state === 'none');
  const many = units.length + parts.length > 1;
  return (
    <section className="section" aria-label="Cover">
      <h3>Cover</h3>
      {bare && (
        <p className="quiet">
          No contract names {units.length === 1 ? 'its serial' : 'its serials'}.
          {mayEdit && !paper && (
            <>
              {' '}
              <Link href={view.href('/estate', { of: 'contracts', where: null, sel: null })}>Contracts</Link> are
              entered one by one, or from a CSV file.
            </>
          )}
        </p>
      )}
      {!bare &&
        [...units, ...parts].map((one) => (
          <div key={one.serial} style={{ padding: '2px 0' }}>
            <div className="state">
              <Glyph name={coverGlyph(one.state)} word={one.state} />
              <span>
                {many && (
                  <>
                    {one.what} <span className="mono">{one.serial}</span>:{' '}
                  </>
                )}
                {coverWords(one)}
              </span>
            </div>
            {one.by.slice(0, 4).map(({ number, kind, supplier, level, contact, until }) => (
              <div key={number} className="small" style={{ paddingLeft: 17 }}>
                {paper ? (
                  number
                ) : (
                  <Link href={view.href('/estate', { of: 'contracts', where: `number="${number}"`, sel: null })}>
                    {number}
                  </Link>
                )}
                <span className="quiet">
                  , {kind}
                  {supplier && ` of ${supplier}`}
                  {level && `: ${level}`}
                  {one.by.length > 1 && until && `, until ${wholeDay(until)}`}
                  {contact && `; call ${contact}`}
                </span>
              </div>
            ))}
            {one.by.length > 4 && (
              <div className="small quiet" style={{ paddingLeft: 17 }}>
                and {one.by.length - 4} more
              </div>
            )}
          </div>
        ))}
    </section>
  );
}

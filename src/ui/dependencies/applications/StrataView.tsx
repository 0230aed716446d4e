'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { Plate, Strata } from '@/core/applications/strata';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';
import { SvgPen } from '../../map/pen';
import { drawStrata, screenColours } from './drawStrata';
import { aroundPlate, plateTall, strataPlaces, type PlacedPlate, type StrataPlaces } from './strataPlaces';
import { strataKinds, takeStrata, type StrataKind } from './takeStrata';

/** An application as strata: who uses it above, what carries it below. A plate pressed opens what it is; pointed at, it lights all it rests on and all that rests on it. */
export function StrataView({ id, name }: { id: number; name: string }) {
  const view = useView();
  const { data, error } = useQuery<Strata & { survey: number }, ApiProblem>({
    queryKey: ['strata', id, view.survey],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call(`applications/${id}/strata${view.survey ? `?survey=${view.survey}` : ''}`, { signal }),
  });
  const [told, setTold] = useState('');
  if (error) return <ProblemNote problem={error} />;
  if (!data) return <p className="quiet">drawing…</p>;
  const take = async (kind: StrataKind) => {
    setTold('');
    try {
      await takeStrata(kind, name, data);
    } catch (fault) {
      setTold((fault as Error).message);
    }
  };
  return (
    <section aria-label={`${name} as strata`}>
      <p className="small take">
        Take it away:{' '}
        {strataKinds.map((kind) => (
          <TextButton key={kind} onClick={() => void take(kind)}>
            {kind}
          </TextButton>
        ))}
        <TextButton onClick={() => window.print()}>Print</TextButton>
      </p>
      {told && <p role="alert">{told}</p>}
      <StrataDrawing strata={data} />
    </section>
  );
}

function StrataDrawing({ strata }: { strata: Strata }) {
  const view = useView();
  const places = useMemo(() => strataPlaces(strata), [strata]);
  const [at, setAt] = useState<PlacedPlate | null>(null);
  const markup = useMemo(() => {
    const pen = new SvgPen();
    drawStrata(pen, places, screenColours, at ? aroundPlate(places, at.key) : null);
    return pen.parts.join('');
  }, [places, at]);
  const open = ({ kind, id }: Plate) => {
    if (kind === 'device') view.set({ sel: `device:${id}` });
    else if (kind === 'service' && /^\d+ /.test(id)) view.set({ sel: `device:${id.split(' ')[0]}` });
    else if (kind === 'machine') view.set({ sel: `machine:${id}` });
  };
  return (
    <figure className="strata">
      <div className="strataroom">
        <svg
          width={places.width}
          height={places.height}
          role="group"
          aria-label="From who uses it down to what carries it"
          onPointerLeave={() => setAt(null)}
        >
          <g aria-hidden="true" dangerouslySetInnerHTML={{ __html: markup }} />
          {places.plates.map((plate) => (
            <rect
              key={plate.key}
              className="plate"
              role="button"
              tabIndex={0}
              aria-label={sentenceOf(places, plate)}
              x={plate.x}
              y={plate.y}
              width={plate.width}
              height={plateTall}
              rx={3}
              fill="transparent"
              onPointerEnter={() => setAt(plate)}
              onFocus={() => setAt(plate)}
              onBlur={() => setAt(null)}
              onClick={() => open(plate)}
              onKeyDown={({ key }) => {
                if (key === 'Enter' || key === ' ') open(plate);
              }}
            />
          ))}
        </svg>
      </div>
      <figcaption className="small">
        {at ? (
          sentenceOf(places, at)
        ) : (
          <span className="quiet">
            A notch marks what stands alone: its loss stops the application. Dotted around what stands in for each
            other.
          </span>
        )}
      </figcaption>
      <details>
        <summary className="small">The same as a list</summary>
        {strata.strata.map(({ title, brackets }) => (
          <section key={title}>
            <h3>{title}</h3>
            <ul className="sentences">
              {brackets.map(({ words, plates }) => (
                <li key={plates[0]?.key}>
                  {words && <span className="bracket">{words}</span>}{' '}
                  {plates.map((plate) => (
                    <span key={plate.key}>{sentenceOf(places, plate)} </span>
                  ))}
                </li>
              ))}
            </ul>
          </section>
        ))}
      </details>
    </figure>
  );
}

const mostNamed = 4;

/** What is said of a plate: what it rests on by which evidence, what rests on it, and what its loss does. */
function sentenceOf({ lines }: StrataPlaces, plate: Plate): string {
  const listed = (words: readonly string[]) =>
    words.length > mostNamed
      ? `${words.slice(0, mostNamed).join(', ')} and ${words.length - mostNamed} more`
      : words.join(', ');
  const rests = lines.filter(({ from }) => from.key === plate.key).map(({ to, proof }) => `${to.name} (${proof})`);
  const above = lines.filter(({ to }) => to.key === plate.key).map(({ from }) => from.name);
  return [
    `${plate.name}${plate.note ? ` ${plate.note}` : ''}.`,
    rests.length > 0 ? `Rests on ${listed(rests)}.` : '',
    above.length > 0 ? `Carries ${listed(above)}.` : '',
    plate.isAlone ? 'Its loss alone stops the application.' : '',
  ]
    .filter(Boolean)
    .join(' ');
}

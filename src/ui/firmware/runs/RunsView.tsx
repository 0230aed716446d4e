'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { componentKinds } from '@/core/firmware/components';
import { term } from '@/core/things/near';
import { Link } from '../../components/Link';
import { PlainInput } from '../../components/PlainInput';
import { ProblemNote } from '../../components/ProblemNote';
import { call, type ApiProblem } from '../../lib/api';
import { useGo } from '../../lib/useGo';
import { useRoom } from '../../lib/useRoom';
import { useView } from '../../lib/useView';
import { FirmwareViews } from '../FirmwareViews';
import { LadderDrawing } from './LadderDrawing';
import { eachDash, type Ladder } from './ladderPlaces';

interface Answer {
  against: number | null;
  ladders: Ladder[];
  mistakes: { file: string; words: string }[];
}

const labelWidth = 230;
/** A line with its label has so much room at least. */
const leastWidth = 600;
const gap = 32;

/** What runs: each family on a line of its releases, the most mixed first. */
export function RunsView() {
  const view = useView();
  const go = useGo();
  const [room, measured] = useRoom();
  const [wanted, setWanted] = useState('');
  const { data, error } = useQuery<Answer, ApiProblem>({
    queryKey: ['release-ladders', view.survey, view.against],
    queryFn: ({ signal }) => {
      const asked = new URLSearchParams({
        ...(view.survey && { survey: String(view.survey) }),
        ...(view.against && { against: String(view.against) }),
      });
      return call<Answer>(`release-ladders?${asked.toString()}`, { signal });
    },
  });
  const columns = Math.max(1, Math.floor((room ?? 0) / leastWidth));
  const words = wanted.trim().toLowerCase();
  const ladders = (data?.ladders ?? []).filter(
    ({ vendor, product, component, rungs }) =>
      words === '' ||
      [vendor, product, component, ...rungs.map(({ release }) => release)].some((one) =>
        one.toLowerCase().includes(words),
      ),
  );
  const mixed = (data?.ladders ?? []).filter(({ spread }) => spread > 1).length;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Firmware</h1>
          <span className="quiet" aria-live="polite">
            {data && `${data.ladders.length} lines of releases, ${mixed} of them mixed`}
          </span>
          <span className="releasefind">
            <PlainInput
              type="search"
              aria-label="A family, a component or a release"
              placeholder="a family, a component or a release"
              value={wanted}
              onChange={({ target }) => setWanted(target.value)}
            />
          </span>
          <Link href={view.href('/estate', { of: 'components', sel: null })}>as a table</Link>
        </div>
        <FirmwareViews current="runs" />
        <div className="releaselines">
          <div ref={measured} />
          {error && <ProblemNote problem={error} />}
          {data?.mistakes.map(({ file, words: wrong }) => (
            <p key={`${file} ${wrong}`} className="notice bad" role="alert">
              A scheme of releases beside the data is not used: {file}: {wrong}
            </p>
          ))}
          {data && data.ladders.length === 0 && (
            <div className="empty">
              <h2>Nothing that answers tells a release</h2>
              <p className="quiet">
                A release is read from what a device says of itself, from its modules, or from its management
                controller. A signature may say where it stands.
              </p>
            </div>
          )}
          {data && data.ladders.length > 0 && ladders.length === 0 && (
            <p className="quiet">No family, component or release has “{wanted}” in it.</p>
          )}
          {room !== null &&
            componentKinds.map((kind) => {
              const own = ladders.filter(({ component }) => component === kind);
              if (own.length === 0) return null;
              return (
                <section key={kind} aria-label={kind}>
                  <h2 className="listhead">{kind}</h2>
                  <div className="columns" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}>
                    {own.map((ladder) => (
                      <div key={`${ladder.vendor} ${ladder.product}`} className="releaseline">
                        <LadderLabel ladder={ladder} />
                        <LadderDrawing
                          ladder={ladder}
                          width={Math.max(240, Math.floor((room - (columns - 1) * gap) / columns) - labelWidth)}
                          onChoose={(release) =>
                            go(
                              view.href('/estate', {
                                of: 'components',
                                where: `${termsOf(ladder)} ${term('release', release)}`,
                                sel: null,
                              }),
                            )
                          }
                        />
                      </div>
                    ))}
                  </div>
                </section>
              );
            })}
        </div>
      </main>
    </div>
  );
}

const termsOf = ({ product, component }: Ladder): string =>
  `${product ? `${term('product', product)} ` : ''}${term('component', component)}`;

function LadderLabel({ ladder }: { ladder: Ladder }) {
  const view = useView();
  const { vendor, product, count, devices, spread, scheme, older } = ladder;
  const each = eachDash(ladder);
  return (
    <div className="label">
      <b>
        <Link href={view.href('/estate', { of: 'components', where: termsOf(ladder), sel: null })}>
          {product || 'no family known'}
        </Link>
      </b>{' '}
      <span className="quiet">{product.startsWith(vendor) ? '' : vendor}</span>
      <div className="small">
        {spread === 1 ? 'one release' : <b>{spread} releases</b>} on {count === devices ? '' : `${count} parts of `}
        {devices} {devices === 1 ? 'device' : 'devices'}
      </div>
      <div className="small quiet">
        {scheme ? scheme.toLowerCase() : 'ordered as numbers and letters stand'}
        {older > 0 && `; ${older} older known`}
        {each > 1 && `; a dash is ${each}`}
      </div>
    </div>
  );
}

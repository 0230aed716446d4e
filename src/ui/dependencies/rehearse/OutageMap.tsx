'use client';

import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';
import { sitesTouched, type OutageDevice, type OutageFate } from './sitesTouched';
import type { Rehearsal } from './useRehearsal';

const [across, plateWidth, plateHeight, gap] = [12, 17, 10, 4];
const head = 18;
const mostDevices = 1000;
const fateWords: Record<OutageFate, string> = {
  down: 'goes down',
  lost: 'would be lost',
  degraded: 'would lose its spare',
  untouched: 'untouched',
};

/** Every device by its site: hatched what is lost, half hatched what loses its spare. */
export function OutageMap({ rehearsal }: { rehearsal: Rehearsal }) {
  const view = useView();
  const [over, setOver] = useState<OutageDevice | null>(null);
  const id = useId().replaceAll(':', '');
  const { data } = useQuery<{ rows: { id: string; name: string; site: string }[]; total: number }, ApiProblem>({
    queryKey: ['devices by site', view.survey],
    queryFn: ({ signal }) =>
      call(
        `devices?${new URLSearchParams({ columns: 'name,site', size: String(mostDevices), ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  if (!data) return null;
  const sites = sitesTouched(data.rows, rehearsal);
  let y = 0;
  const bays = sites.map(({ site, devices }) => {
    const top = y;
    y += head + Math.ceil(devices.length / across) * (plateHeight + gap) + 8;
    return { site, devices, top };
  });
  const width = across * (plateWidth + gap);
  return (
    <figure className="outagemap">
      <svg
        width={width}
        height={y}
        role="group"
        aria-label="Devices by site: what is lost is hatched, what loses its spare is half hatched"
        onPointerLeave={() => setOver(null)}
      >
        <defs>
          <pattern id={`hatch${id}`} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line x1="0" y1="0" x2="0" y2="4" stroke="var(--bad)" strokeWidth="2.4" />
          </pattern>
        </defs>
        {bays.map(({ site, devices, top }) => (
          <g key={site} transform={`translate(0,${top})`}>
            <text x={0} y={12} fontSize={11} fill="var(--ink-2)">
              {site || 'no site'}
            </text>
            {devices.map((device, at) => {
              const [x, place] = [
                (at % across) * (plateWidth + gap),
                head + Math.floor(at / across) * (plateHeight + gap),
              ];
              const { fate } = device;
              return (
                <g
                  key={device.id}
                  className="outageplate"
                  role="button"
                  tabIndex={fate === 'untouched' ? -1 : 0}
                  aria-label={`${device.name} ${fateWords[fate]}`}
                  onPointerEnter={() => setOver(device)}
                  onFocus={() => setOver(device)}
                  onClick={() => view.set({ sel: `device:${device.id}` })}
                  onKeyDown={({ key }) => {
                    if (key === 'Enter' || key === ' ') view.set({ sel: `device:${device.id}` });
                  }}
                >
                  <rect
                    x={x}
                    y={place}
                    width={plateWidth}
                    height={plateHeight}
                    rx={2}
                    fill={fate === 'down' ? 'var(--ember)' : 'var(--panel)'}
                    stroke={fate === 'untouched' ? 'var(--line)' : fate === 'down' ? 'var(--ember)' : 'var(--bad)'}
                  />
                  {(fate === 'lost' || fate === 'degraded') && (
                    <rect
                      x={x}
                      y={fate === 'lost' ? place : place + plateHeight / 2}
                      width={plateWidth}
                      height={fate === 'lost' ? plateHeight : plateHeight / 2}
                      rx={fate === 'lost' ? 2 : 0}
                      fill={`url(#hatch${id})`}
                    />
                  )}
                </g>
              );
            })}
          </g>
        ))}
      </svg>
      <figcaption className="small">
        {over ? (
          `${over.name} ${fateWords[over.fate]}`
        ) : (
          <span className="quiet">
            Hatched: lost. Half hatched: loses its spare. Full: goes down.
            {data.total > data.rows.length &&
              ` Of ${data.total} devices the first ${data.rows.length}, and all that are touched.`}
          </span>
        )}
      </figcaption>
    </figure>
  );
}

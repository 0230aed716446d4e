'use client';

import type { TraceEnd, TraceHop } from '@/core/trace/trace';
import { useView } from '../../lib/useView';
import { Glyph } from '../../components/Glyph';
import { ProblemNote } from '../../components/ProblemNote';
import { EndField } from './EndField';
import type { LitTrace } from './useTrace';
import { TextButton } from '../../components/TextButton';

/** From one thing to another: hop by hop, with the ports, VLANs and routes, and where knowledge ends. */
export function TraceList({
  lit: { trace, problem, pending },
  nameOf,
  chosen,
  onShow,
}: {
  lit: LitTrace;
  nameOf: (device: string) => string | undefined;
  chosen: string | null;
  onShow: (sel: string) => void;
}) {
  const view = useView();
  const mistakeOf = (path: string) => problem?.errors.find((own) => own.path === path)?.message ?? null;
  const [from, to] = [view.from ?? '', view.to ?? ''];
  // what came by its number is shown by its name
  const shown = (end: string) => nameOf(/^device:(\d+)$/.exec(end)?.[1] ?? '') ?? end.replace(/^endpoint:/, '');
  return (
    <div className="tracelist">
      <div className="traceends">
        <EndField
          label="From"
          value={shown(from)}
          survey={view.survey}
          mistake={mistakeOf('from')}
          onChange={(value) => view.set({ from: value, sel: null })}
        />
        <EndField
          label="To"
          value={shown(to)}
          survey={view.survey}
          mistake={mistakeOf('to')}
          onChange={(value) => view.set({ to: value, sel: null })}
        />
        <p className="small">
          <TextButton disabled={!from && !to} onClick={() => view.set({ from: to, to: from, sel: null })}>
            The way back
          </TextButton>
        </p>
      </div>
      {problem && problem.errors.length === 0 && <ProblemNote problem={problem} />}
      {(!from || !to) && (
        <p className="quiet small" style={{ padding: '0 12px' }}>
          Say where it begins and where it goes: the way is told port by port and lit on the plan.
        </p>
      )}
      {pending && (
        <p className="quiet small" style={{ padding: '0 12px' }}>
          following the way…
        </p>
      )}
      {trace && (
        <div aria-live="polite">
          <p className="verdict">
            {trace.gap === null ? (
              <span className="state">
                <Glyph name="up" />{' '}
                {trace.hops.length === 1 ? 'Both hang on one device.' : `It arrives over ${trace.hops.length} devices.`}
              </span>
            ) : (
              <span className="state">
                <Glyph name="fault" /> It is not known to arrive.
              </span>
            )}
          </p>
          <End end={trace.from} words="begins at" />
          <ol>
            {trace.hops.map((hop, at) => (
              <Hop
                key={`${hop.deviceId} ${at}`}
                hop={hop}
                nth={at + 1}
                chosen={chosen === `device:${hop.deviceId}`}
                onShow={onShow}
              />
            ))}
          </ol>
          {trace.gap === null ? (
            <End end={trace.to} words="arrives at" />
          ) : (
            <p className="gap">
              <Glyph name="fault" /> <span>Here knowledge ends: {trace.gap}.</span>
            </p>
          )}
          {trace.notes.length > 0 && (
            <ul className="notes small quiet">
              {trace.notes.map((words) => (
                <li key={words}>{words}.</li>
              ))}
            </ul>
          )}
        </div>
      )}
    </div>
  );
}

function End({ end: { words, address, mac, vlan, how }, words: what }: { end: TraceEnd; words: string }) {
  const more = [address !== words && address, mac !== words && mac, vlan !== null && `VLAN ${vlan}`, how]
    .filter(Boolean)
    .join(', ');
  return (
    <p className="traceend small">
      <span className="quiet">{what}</span> <b>{words}</b>
      {more && <span className="quiet">, {more}</span>}
    </p>
  );
}

function Hop({
  hop: { deviceId, device, does, in: into, out, vlan, link, route, notes },
  nth,
  chosen,
  onShow,
}: {
  hop: TraceHop;
  nth: number;
  chosen: boolean;
  onShow: (sel: string) => void;
}) {
  return (
    <li className={chosen ? 'chosen' : undefined}>
      <div>
        <span className="nth">{nth}</span>
        <TextButton onClick={() => onShow(`device:${deviceId}`)}>{device}</TextButton>{' '}
        <span className="quiet small">{does === 'routes' ? 'routes' : ''}</span>
      </div>
      <div className="small">
        {into !== null && (
          <>
            in <span className="mono">{into}</span>{' '}
          </>
        )}
        {out !== null && (
          <>
            out{' '}
            {link ? (
              <TextButton
                className="mono"
                aria-label={`The link out of ${device} ${out}`}
                onClick={() => onShow(`link:${link}`)}
              >
                {out}
              </TextButton>
            ) : (
              <span className="mono">{out}</span>
            )}{' '}
          </>
        )}
        {vlan !== null && out !== null && <span className="quiet">VLAN {vlan}</span>}
      </div>
      {route && (
        <div className="small">
          <span className="mono">{route}</span>
        </div>
      )}
      {notes.map(({ words, against }) => (
        <div key={words} className="small quiet">
          {against && <Glyph name="fault" size={9} />} {words}
        </div>
      ))}
    </li>
  );
}

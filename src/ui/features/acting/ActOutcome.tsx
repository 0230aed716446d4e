import { useEffect, useState } from 'react';
import { actWords } from '@/core/acting/portAct';
import { Glyph, type GlyphName } from '../../components/Glyph';
import type { PortActRow } from './usePortActs';

const headlines: Record<Exclude<PortActRow['state'], 'queued' | 'sending'>, [GlyphName, string]> = {
  done: ['up', 'Done'],
  refused: ['fault', 'The device refused'],
  changed: ['later', 'Not sent'],
  different: ['fault', 'Sent, and not as wanted'],
  unsure: ['fault', 'Sent, outcome not known'],
  unsent: ['silent', 'Not sent'],
};

export const actGlyph = (state: PortActRow['state']): GlyphName =>
  state === 'queued' || state === 'sending' ? 'later' : headlines[state][0];
export const actHeadline = (state: PortActRow['state']): string =>
  state === 'queued' || state === 'sending' ? 'under way' : headlines[state][1];

const lateMs = 5000;

/** How an act goes, and what came of it. */
export function ActOutcome({ going, device }: { going: PortActRow | 'asked'; device: string }) {
  if (going === 'asked') return <Waiting since={null} />;
  if (going.state === 'queued') return <Waiting since={going.at} />;
  const { act, state, sent, after, reason, remedy } = going;
  const last = sent.at(-1);
  if (state === 'sending')
    return (
      <p role="status">
        {act.kind === 'powerCycle' && sent.length === 1
          ? `The power is off. It is given back after ${act.offSeconds} s…`
          : `sending ${last?.object ?? ''} to ${device}, and reading it back…`}
      </p>
    );
  const [glyph, headline] = headlines[state];
  return (
    <div role="status">
      <p className="state">
        <Glyph name={glyph} />
        <span>
          <b style={{ fontWeight: 600 }}>{headline}</b>
          {state === 'done' && `: ${actWords(act)}`}
          {reason && `: ${reason}.`}
        </span>
      </p>
      {remedy && <p>{remedy}</p>}
      {after && (
        <p className="small quiet">
          Read back: {after.admin === 'down' ? 'switched off' : `switched on, ${after.oper}`}
          {after.power && `, power ${after.power.enabled ? after.power.state : 'switched off'}`}
          {after.alias && `, alias “${after.alias}”`}. The tables show it after the next survey.
        </p>
      )}
    </div>
  );
}

/** While the engine has not taken the act; what it waits for is told once that takes long. */
function Waiting({ since }: { since: string | null }) {
  const [late, setLate] = useState(false);
  useEffect(() => {
    if (since === null) return;
    const timer = setTimeout(() => setLate(true), Math.max(0, Date.parse(since) + lateMs - Date.now()));
    return () => clearTimeout(timer);
  }, [since]);
  return (
    <p role="status" className="quiet">
      {late
        ? 'The engine does not take it: it may be busy, or not running. After a minute it is not sent any more.'
        : 'handing it to the engine…'}
    </p>
  );
}

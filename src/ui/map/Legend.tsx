import type { CSSProperties } from 'react';
import { Glyph } from '../components/Glyph';
import type { InSight } from './distance';

/** Only what is on the screen. */
export function Legend({
  inSight: { colours, ports, solid, dashed, dotted, rests, wrong, silent, works },
}: {
  inSight: InSight;
}) {
  const line = (dash: string, colour = 'var(--ink-3)') => (
    <svg width="28" height="8" aria-hidden>
      <line x1="0" x2="28" y1="4" y2="4" stroke={colour} strokeWidth="2.5" strokeDasharray={dash} />
    </svg>
  );
  const tint = (name: string) => `var(--${name === 'ink2' ? 'ink-2' : name === 'ink3' ? 'ink-3' : name})`;
  // where colours say how sure a line is, its dashes need not say so again
  const said = new Set(colours.map(({ words }) => words));
  return (
    <div className="legend">
      {solid && !said.has('both ends say so') && <span>{line('')} both ends say so</span>}
      {dashed && !said.has('one end says so') && <span>{line('9 5')} one end says so</span>}
      {dotted && !said.has('concluded') && <span>{line('1.5 4')} concluded</span>}
      {rests && (
        <span>
          <i className="rests" /> rests
        </span>
      )}
      {wrong && (
        <span>
          <Glyph name="fault" /> something is wrong
        </span>
      )}
      {silent && (
        <span>
          <Glyph name="silent" /> silent
        </span>
      )}
      {works && <span>{line('5 4', 'var(--ember)')} planned work or incident</span>}
      {ports.map(({ words, tint: name, shape }) => (
        <span key={`port ${words}`}>
          <i className={`portpatch ${shape}`} style={{ '--of': tint(name) } as CSSProperties} /> {words}
        </span>
      ))}
      {colours.map(({ words, tint: name, line: isLine }) => (
        <span key={`${words}${isLine}`}>
          {isLine ? line('', tint(name)) : <i className="patch" style={{ background: tint(name) }} />} {words}
        </span>
      ))}
    </div>
  );
}

export type GlyphName = 'up' | 'down' | 'off' | 'fault' | 'silent' | 'later' | 'unknown';

const words: Record<GlyphName, string> = {
  up: 'up',
  down: 'down',
  off: 'switched off',
  fault: 'fault',
  silent: 'silent',
  later: 'after a step',
  unknown: 'unknown',
};

/** State as a shape first, a colour second. Give `word` where no word stands beside it. */
export function Glyph({ name, word, size = 11 }: { name: GlyphName; word?: boolean | string; size?: number }) {
  const label = word === true ? words[name] : word || undefined;
  return (
    <svg
      className="glyph"
      width={size}
      height={size}
      viewBox="0 0 11 11"
      role={label ? 'img' : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
    >
      {name === 'up' && <circle cx="5.5" cy="5.5" r="4.5" fill="var(--good)" />}
      {name === 'down' && <circle cx="5.5" cy="5.5" r="3.7" fill="none" stroke="var(--ink-3)" strokeWidth="1.6" />}
      {name === 'off' && <rect x="1" y="4.2" width="9" height="2.6" fill="var(--ink-3)" />}
      {name === 'fault' && <path d="M0 1 L11 5.5 L0 10Z" fill="var(--bad)" />}
      {name === 'silent' && (
        <circle
          cx="5.5"
          cy="5.5"
          r="3.9"
          fill="none"
          stroke="var(--caution)"
          strokeWidth="1.6"
          strokeDasharray="1.7 1.9"
        />
      )}
      {name === 'later' && (
        <>
          <circle cx="5.5" cy="5.5" r="4" fill="none" stroke="var(--caution)" strokeWidth="1.4" />
          <path d="M5.5 1.5 A4 4 0 0 1 5.5 9.5Z" fill="var(--caution)" />
        </>
      )}
      {name === 'unknown' && <circle cx="5.5" cy="5.5" r="2" fill="var(--ink-3)" />}
    </svg>
  );
}

export function deviceGlyph(state: unknown): GlyphName {
  return state === 'answering' ? 'up' : state === 'silent' ? 'silent' : state === 'partial' ? 'fault' : 'unknown';
}

export function portGlyph(port: Record<string, unknown>): GlyphName {
  if (port.admin === 'down') return 'off';
  if (port.disabledBy) return 'fault';
  return port.oper === 'up' ? (port.duplex === 'half' ? 'fault' : 'up') : port.oper === 'unknown' ? 'unknown' : 'down';
}

export function verdictGlyph(verdict: unknown): GlyphName {
  switch (verdict) {
    case 'ready':
    case 'already there':
      return 'up';
    case 'blocked':
      return 'fault';
    case 'ready after':
      return 'later';
    default:
      return 'unknown';
  }
}

export function outcomeGlyph(outcome: unknown): GlyphName {
  switch (outcome) {
    case 'answered':
      return 'up';
    case 'partial':
    case 'failed':
    case 'refused':
      return 'fault';
    case 'alive':
      return 'later';
    case 'silent':
      return 'down';
    default:
      return 'unknown';
  }
}

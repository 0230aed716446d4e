import { formatAge, formatSpeed } from '@/core/values/quantity';
import type { ThingRow } from '../lib/api';

/** What the sockets of a faceplate may be coloured by. */
export const colourings = [
  'state',
  'VLAN',
  'speed',
  'power',
  'idle time',
  'spanning tree',
  'machines',
  'errors',
  'change',
] as const;
export type Colouring = (typeof colourings)[number];

/** Sockets that say the same: how they are marked, and the filter that finds them. */
export interface ColourGroup {
  words: string;
  /** of the theme */
  colour: string;
  count: number;
  where: string;
}

export interface Coloured {
  /** by id of a port: what is written in its socket, and which group it belongs to; a port that is not there has nothing to say */
  marks: Map<string, { text: string; group: number }>;
  groups: ColourGroup[];
}

const palette = ['var(--lagoon)', 'var(--moss)', 'var(--plum)', 'var(--sand)', 'var(--good)'];
const otherColour = 'var(--slate)';
const day = 86_400;

/** What one port says under a colouring: its text, the words of its group, the filter of the group, and a colour where it is no matter of counting. Null where it says nothing. */
type Said = { text: string; words: string; where: string; colour?: string; order?: number } | null;

const idleSteps: { upTo: number; words: string; where: string; colour: string }[] = [
  { upTo: day, words: 'down for less than a day', where: 'oper!=up lastChangeSeconds<1d', colour: 'var(--lagoon)' },
  {
    upTo: 30 * day,
    words: 'down for less than 30 d',
    where: 'oper!=up lastChangeSeconds>=1d lastChangeSeconds<30d',
    colour: 'var(--moss)',
  },
  {
    upTo: 365 * day,
    words: 'down for less than a year',
    where: 'oper!=up lastChangeSeconds>=30d lastChangeSeconds<365d',
    colour: 'var(--sand)',
  },
  { upTo: Infinity, words: 'down for longer', where: 'oper!=up lastChangeSeconds>=365d', colour: 'var(--plum)' },
];
const crowds: { upTo: number; words: string; where: string }[] = [
  { upTo: 1, words: 'one machine', where: 'machines=1' },
  { upTo: 4, words: '2 to 4 machines', where: 'machines>1 machines<=4' },
  { upTo: 16, words: '5 to 16 machines', where: 'machines>4 machines<=16' },
  { upTo: Infinity, words: 'more than 16', where: 'machines>16' },
];
const losses: { upTo: number; words: string; where: string; colour: string }[] = [
  {
    upTo: 99,
    words: 'fewer than 100 frames damaged since the survey before',
    where: 'errors>0 errors<100',
    colour: 'var(--sand)',
  },
  { upTo: Infinity, words: '100 and more', where: 'errors>=100', colour: 'var(--bad)' },
];
const changeMarks: Record<string, { text: string; words: string; colour: string }> = {
  added: { text: '+', words: 'new', colour: 'var(--good)' },
  gone: { text: '−', words: 'gone', colour: 'var(--bad)' },
  changed: { text: '~', words: 'changed', colour: 'var(--sand)' },
  replaced: { text: '⇄', words: 'replaced', colour: 'var(--plum)' },
  silent: { text: '?', words: 'silent', colour: 'var(--caution)' },
};

function said(port: ThingRow, by: Colouring): Said {
  switch (by) {
    case 'state':
      return null;
    case 'VLAN':
      return port.vlan === null || port.vlan === undefined
        ? null
        : { text: String(port.vlan), words: `VLAN ${String(port.vlan)}`, where: `vlan=${String(port.vlan)}` };
    case 'speed':
      return port.oper === 'up' && Number(port.speedBps) > 0
        ? {
            text: formatSpeed(Number(port.speedBps)),
            words: formatSpeed(Number(port.speedBps)),
            where: `oper=up speed=${String(port.speedBps)}`,
          }
        : null;
    case 'power': {
      const poe = port.poe as { enabled: boolean; state: string; class: number | null } | null;
      if (!poe) return null;
      if (!poe.enabled)
        return { text: 'off', words: 'power switched off', where: 'power="switched off"', colour: otherColour };
      if (poe.state === 'delivering')
        return {
          text: poe.class === null ? 'on' : `c${poe.class}`,
          words: 'gives power',
          where: 'power:delivering',
          colour: 'var(--sand)',
        };
      return {
        text: poe.state === 'searching' ? '' : '!',
        words: poe.state,
        where: `power:${poe.state}`,
        colour: poe.state === 'fault' ? 'var(--bad)' : 'var(--line)',
      };
    }
    case 'idle time': {
      if (port.oper === 'up' || port.lastChangeSeconds === null || port.lastChangeSeconds === undefined) return null;
      const age = Number(port.lastChangeSeconds);
      const step = idleSteps.findIndex(({ upTo }) => age < upTo);
      const { words, where, colour } = idleSteps[step] ?? { words: '', where: '', colour: '' };
      return { text: formatAge(age).split(' ').join(''), words, where, colour, order: step };
    }
    case 'spanning tree': {
      const stp = port.stp as { state: string; role: string } | null;
      return stp && stp.role
        ? {
            text: stp.role.slice(0, 4),
            words: `${stp.role}, ${stp.state}`,
            where: `stpRole=${stp.role} stpState=${stp.state}`,
            ...(stp.state === 'blocking' && { colour: 'var(--caution)' }),
          }
        : null;
    }
    case 'machines': {
      const count = Number(port.machines ?? 0);
      const step = crowds.findIndex(({ upTo }) => count <= upTo);
      const { words, where } = crowds[step] ?? { words: '', where: '' };
      return count === 0 ? null : { text: String(count), words, where, order: step };
    }
    case 'errors': {
      const count = Number(port.errors ?? 0);
      const step = losses.findIndex(({ upTo }) => count <= upTo);
      const { words, where, colour } = losses[step] ?? { words: '', where: '', colour: '' };
      return count === 0
        ? null
        : { text: count < 1000 ? String(count) : `${Math.round(count / 1000)}k`, words, where, colour, order: step };
    }
    case 'change': {
      const mark = changeMarks[String(port.change ?? '')];
      return mark ? { ...mark, where: `change=${String(port.change)}` } : null;
    }
  }
}

/** What each socket shows under a colouring, and what the colours mean: the commonest values have one of their own. */
export function colouredBy(ports: readonly ThingRow[], by: Colouring): Coloured {
  const told = ports.flatMap((port) => {
    const one = said(port, by);
    return one ? [{ id: port.id, one }] : [];
  });
  const counts = new Map<string, { one: NonNullable<Said>; count: number }>();
  for (const { one } of told) {
    const known = counts.get(one.words);
    if (known) known.count++;
    else counts.set(one.words, { one, count: 1 });
  }
  const ranked = [...counts.values()].sort(
    (x, y) =>
      (x.one.order ?? 0) - (y.one.order ?? 0) ||
      y.count - x.count ||
      x.one.words.localeCompare(y.one.words, 'en', { numeric: true }),
  );
  const places = new Map(ranked.map(({ one }, place) => [one.words, place]));
  return {
    groups: ranked.map(({ one: { words, where, colour }, count }, place) => ({
      words,
      where,
      count,
      colour: colour ?? palette[place] ?? otherColour,
    })),
    marks: new Map(told.map(({ id, one }) => [id, { text: one.text, group: places.get(one.words) ?? 0 }])),
  };
}

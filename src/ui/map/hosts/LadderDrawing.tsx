'use client';

import { useMemo } from 'react';
import { useRoom } from '../../lib/useRoom';
import { ladderPlan, type Rung } from '@/core/layout/ladderPlan';
import type { HostLadder } from '@/core/topology/hostLadder';
import { formatSpeed } from '@/core/values/quantity';

export const teamingWords: Record<string, string> = {
  'active-standby': 'one works, one waits',
  balanced: 'shared, without an aggregate',
  aggregate: 'an aggregate set by hand',
  lacp: 'an aggregate (LACP)',
  other: 'sharing not told',
};

/** The ladder of a host: machines, virtual switches, adapters, ports of switches, each joined to what it is on. */
export function LadderDrawing({
  ladder,
  chosen,
  onPort,
}: {
  ladder: HostLadder;
  chosen: string | null;
  onPort: (deviceId: number, port: string) => void;
}) {
  const [room, measured] = useRoom();
  const plan = useMemo(() => ladderPlan(ladder, room === null ? Infinity : room - 2), [ladder, room]);
  const { machines, switches, adapters, findings } = ladder;
  const wrong = new Set(findings.flatMap((finding) => finding.adapters));
  const head = 22;
  const { columns } = plan;
  const heads: [number, string][] = [
    [columns.machines.x, 'machines'],
    [columns.switches.x, 'virtual switch'],
    [columns.adapters.x, 'adapters'],
    [columns.plugs.x, 'ports of switches'],
  ];
  return (
    <svg
      ref={measured}
      className="ladderdrawing"
      width={plan.width + 2}
      height={plan.height + head + 4}
      viewBox={`-1 ${-head} ${plan.width + 2} ${plan.height + head + 4}`}
      role="group"
      aria-label={`From ${ladder.host} to the switches; the table below says the same`}
    >
      {heads.map(
        ([x, words]) =>
          (x > 0 || machines.length > 0) && (
            <text key={words} x={x} y={-8} className="head">
              {words}
            </text>
          ),
      )}
      {plan.lines.map(({ key, from, to, adapter }) => (
        <path
          key={key}
          d={curve(from, to)}
          className={adapter !== null && wrong.has(adapter) ? 'line wrong' : 'line'}
        />
      ))}
      {plan.machines.map((rung) => {
        const machine = machines.find(({ name }) => name === rung.key);
        return (
          <Box
            key={rung.key}
            rung={rung}
            first={rung.key}
            pale={machine?.state !== 'running'}
            title={`${rung.key}, ${machine?.state ?? ''}`}
            end={machine?.state === 'running' ? vlansOf(machine.adapters) : machine?.state}
          />
        );
      })}
      {plan.switches.map((rung) => {
        const own = switches.find(({ name }) => name === rung.key);
        return (
          <Box
            key={rung.key}
            rung={rung}
            first={rung.key}
            second={teamingWords[own?.teaming ?? 'other']}
            lines={own?.groups.map(({ name, vlan }) => `${name}${vlan ? `, VLAN ${vlan}` : ''}`)}
          />
        );
      })}
      {plan.adapters.map((rung) => {
        const own = adapters.find(({ name }) => name === rung.key);
        return (
          <Box
            key={rung.key}
            rung={rung}
            first={rung.key}
            second={own?.up ? (own.speedBps ? formatSpeed(own.speedBps) : 'up') : 'no link'}
            pale={!own?.up}
            wrong={own?.plug === null && wrong.has(rung.key)}
          />
        );
      })}
      {plan.plugs.map((rung) => {
        const plug = adapters.find(({ name }) => name === rung.key)?.plug;
        if (!plug) return null;
        const { deviceId, device, port, facts } = plug;
        return (
          <Box
            key={rung.key}
            rung={rung}
            first={`${device} ${port}`}
            second={facts ? carriedWords(facts.vlan, facts.taggedVlans, facts.lag) : 'told by nobody'}
            wrong={wrong.has(rung.key)}
            chosen={chosen === `port:${deviceId}:${port}`}
            onPress={() => onPort(deviceId, port)}
          />
        );
      })}
    </svg>
  );
}

const vlansOf = (own: HostLadder['machines'][number]['adapters']): string | undefined => {
  const vlans = [...new Set(own.flatMap(({ vlan }) => vlan ?? []))];
  return vlans.length > 0 ? `VLAN ${vlans.join(', ')}` : undefined;
};

const carriedWords = (vlan: number | null, tagged: number[], lag: string | null): string => {
  const list = tagged.length > 4 ? `${tagged.slice(0, 4).join(', ')}, …` : tagged.join(', ');
  return [lag && `in ${lag}`, vlan !== null && `VLAN ${vlan}`, list && `tagged ${list}`].filter(Boolean).join(', ');
};

const middle = ({ y, height }: Rung) => y + height / 2;
function curve(from: Rung, to: Rung): string {
  const [x1, x2] = [from.x + from.width, to.x];
  const bend = (x2 - x1) / 2;
  return `M${x1} ${middle(from)} C${x1 + bend} ${middle(from)} ${x2 - bend} ${middle(to)} ${x2} ${middle(to)}`;
}

interface BoxProps {
  rung: Rung;
  first: string;
  second?: string | undefined;
  end?: string | undefined;
  lines?: string[] | undefined;
  pale?: boolean | undefined;
  wrong?: boolean;
  chosen?: boolean;
  title?: string;
  onPress?: () => void;
}

function Box({
  rung: { x, y, width, height },
  first,
  second,
  end,
  lines = [],
  pale = false,
  wrong = false,
  chosen = false,
  title,
  onPress,
}: BoxProps) {
  const most = Math.floor((width - 16 - (end ? end.length * 6 : 0)) / 6.6);
  const cut = (words: string) => (words.length > most ? `${words.slice(0, most - 1)}…` : words);
  const cutSecond =
    second && second.length > width / 5.6 ? `${second.slice(0, Math.floor(width / 5.6) - 1)}…` : (second ?? '');
  const body = (
    <>
      {!onPress && <title>{title ?? [first, second, ...lines].filter(Boolean).join(', ')}</title>}
      <rect
        x={x}
        y={y}
        width={width}
        height={height}
        rx={4}
        className={`box${pale ? ' pale' : ''}${chosen ? ' chosen' : ''}`}
      />
      <text x={x + 8} y={y + 16} className="name">
        {cut(first)}{' '}
      </text>
      {end && (
        <text x={x + width - 8} y={y + 16} textAnchor="end" className="more">
          {end}
        </text>
      )}
      {second && (
        <text x={x + 8} y={y + 32} className="more">
          {cutSecond}
        </text>
      )}
      {lines.map((words, at) => (
        <text key={words} x={x + 8} y={y + 48 + at * 16} className="more">
          {words}
        </text>
      ))}
      {wrong && <path d={`M${x + width - 15} ${y + 7} l9 4.5 l-9 4.5z`} fill="var(--bad)" />}
    </>
  );
  if (!onPress) return <g>{body}</g>;
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${cut(first)} ${cutSecond}`.trim()}
      className="press"
      onClick={onPress}
      onKeyDown={(event) => {
        if (event.key === 'Enter' || event.key === ' ') {
          event.preventDefault();
          onPress();
        }
      }}
    >
      {body}
    </g>
  );
}

'use client';

import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, type KeyboardEvent } from 'react';
import type { HostLadder } from '@/core/topology/hostLadder';
import { Link } from '@/ui/components/Link';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import { Glyph } from '../../components/Glyph';
import { Panel } from '../../components/Panel';
import { ProblemNote } from '../../components/ProblemNote';
import { AnyDossier } from '../../features/dossier/AnyDossier';
import { MapViews } from '../MapViews';
import { LadderDrawing } from './LadderDrawing';
import { LadderTable } from './LadderTable';
import { PlainButton } from '../../components/PlainButton';

interface HostLine {
  id: string;
  host: string;
  hostId: number | null;
  machines: number;
  running: number;
  uplinks: number;
  findings: HostLadder['findings'];
}

/** From the virtual machines of a host down to the ports of switches: is the teaming right? */
export function HostsView() {
  const view = useView();
  const moment = view.survey ? `?survey=${view.survey}` : '';
  const list = useQuery<{ rows: HostLine[] }, ApiProblem>({
    queryKey: ['hosts', view.survey],
    queryFn: ({ signal }) => call(`hosts${moment}`, { signal }),
  });
  const rows = list.data?.rows ?? [];
  const wrong = rows.filter(({ findings }) => findings.length > 0);
  const chosen = view.host ?? wrong[0]?.id ?? rows[0]?.id ?? null;
  const ladder = useQuery<HostLadder, ApiProblem>({
    queryKey: ['host', chosen, view.survey],
    enabled: chosen !== null,
    retry: false,
    queryFn: ({ signal }) => call(`hosts/${encodeURIComponent(chosen ?? '')}${moment}`, { signal }),
  });
  const port = /^port:(\d+:.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Hosts</h1>
          <span className="quiet">
            {list.data &&
              `${rows.length} with machines or bundles${wrong.length > 0 ? `, ${wrong.length} not as ${wrong.length === 1 ? 'it' : 'they'} should be` : ''}`}
          </span>
        </div>
        <MapViews current="hosts" />
        {list.error ? (
          <ProblemNote problem={list.error} />
        ) : list.data && rows.length === 0 ? (
          <div className="empty">
            <h2>No host of virtual machines is known</h2>
            <p className="quiet">
              A hypervisor tells of its machines by SNMP (VM-MIB), or a manager of hosts does:{' '}
              <Link href={view.href('/survey')}>put its address and a credential into a scope</Link>. A server with a
              bundle stands here too.
            </p>
          </div>
        ) : (
          <div className="mapwhole">
            <HostList rows={rows} chosen={chosen} onChoose={(host) => view.set({ host, sel: null })} />
            <div className="ladder" aria-busy={ladder.isPending}>
              {ladder.error && (
                <p role="alert" style={{ padding: 16 }}>
                  {ladder.error.detail}
                </p>
              )}
              {ladder.data && (
                <Ladder
                  ladder={ladder.data}
                  chosen={view.sel}
                  onPort={(deviceId, name) => view.set({ sel: `port:${deviceId}:${name}` })}
                />
              )}
            </div>
          </div>
        )}
      </main>
      {port && (
        <Panel label="Port">
          <AnyDossier thing="ports" id={port} />
        </Panel>
      )}
    </div>
  );
}

function HostList({
  rows,
  chosen,
  onChoose,
}: {
  rows: HostLine[];
  chosen: string | null;
  onChoose: (host: string) => void;
}) {
  const here = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    here.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const onKeyDown = (event: KeyboardEvent) => {
    const at = rows.findIndex(({ id }) => id === chosen);
    const next = event.key === 'ArrowDown' ? rows[at + 1] : event.key === 'ArrowUp' ? rows[at - 1] : undefined;
    if (!next) return;
    event.preventDefault();
    onChoose(next.id);
    setTimeout(() => here.current?.focus());
  };
  return (
    <ul className="hostlist" aria-label="Hosts" onKeyDown={onKeyDown}>
      {rows.map(({ id, host, machines, findings }) => (
        <li key={id}>
          <PlainButton
            ref={id === chosen ? here : undefined}
            aria-current={id === chosen || undefined}
            tabIndex={id === chosen ? 0 : -1}
            onClick={() => onChoose(id)}
          >
            <Glyph
              name={findings.length > 0 ? 'fault' : 'up'}
              size={9}
              word={findings.length > 0 ? 'something is wrong' : 'as it should be'}
            />
            <span className="cut">{host}</span>
            <span className="quiet small end">
              {machines > 0 ? `${machines} ${machines === 1 ? 'machine' : 'machines'}` : 'a bundle'}
            </span>
          </PlainButton>
        </li>
      ))}
    </ul>
  );
}

function Ladder({
  ladder,
  chosen,
  onPort,
}: {
  ladder: HostLadder;
  chosen: string | null;
  onPort: (deviceId: number, port: string) => void;
}) {
  const view = useView();
  const { host, hostId, machines, findings } = ladder;
  return (
    <>
      <h2>{hostId === null ? host : <Link href={view.href('/estate', { sel: `device:${hostId}` })}>{host}</Link>}</h2>
      {findings.length === 0 ? (
        <p className="state">
          <Glyph name="up" /> Nothing is wrong on the way from {machines.length > 0 ? 'its machines' : 'it'} to the
          switches.
        </p>
      ) : (
        <ul>
          {findings.map(({ kind, part, words, remedy }) => (
            <li key={`${kind} ${part} ${words}`} style={{ padding: '3px 0' }}>
              <span className="state" style={{ display: 'flex' }}>
                <Glyph name="fault" />
                <span>
                  {words}. <span className="quiet">{remedy}</span>
                </span>
              </span>
            </li>
          ))}
        </ul>
      )}
      <LadderDrawing ladder={ladder} chosen={chosen} onPort={onPort} />
      <LadderTable ladder={ladder} onPort={onPort} />
    </>
  );
}

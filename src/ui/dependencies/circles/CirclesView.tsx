'use client';

import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Circle, HostTalk } from '@/core/dependency/circle';
import type { Circles } from '@/core/dependency/circles';
import type { Application, MemberRule } from '@/core/applications/application';
import { memberKey } from '@/core/applications/application';
import { Glyph } from '../../components/Glyph';
import { PlainButton } from '../../components/PlainButton';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { useWritten } from '../../features/edits/useWritten';
import { ApiProblem, call } from '../../lib/api';
import { useMayEdit } from '../../lib/person';
import { useGo } from '../../lib/useGo';
import { useView } from '../../lib/useView';
import { DependencyViews } from '../DependencyViews';
import { ChosenPanel } from '../ChosenPanel';
import { CircleDrawing } from './CircleDrawing';

/** Hosts that belong together because they talk; what everybody asks is set apart. */
export function CirclesView() {
  const view = useView();
  const { data, error } = useQuery<Circles, ApiProblem>({
    queryKey: ['talk-circles', view.survey],
    queryFn: ({ signal }) => call(`talk-circles${view.survey ? `?survey=${view.survey}` : ''}`, { signal }),
  });
  const rows = data?.circles ?? [];
  const chosen = rows.find(({ id }) => id === view.host) ?? rows[0] ?? null;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Circles</h1>
          <span className="quiet">
            {data &&
              `${rows.length === 1 ? '1 circle' : `${rows.length} circles`} of hosts that talk among themselves${data.shared.length > 0 ? `; ${data.shared.length} set apart, since everybody asks them` : ''}`}
          </span>
        </div>
        <DependencyViews current="circles" />
        {error ? (
          <ProblemNote problem={error} />
        ) : data && rows.length === 0 && data.shared.length === 0 ? (
          <div className="empty">
            <h2>No talk between hosts is known at this survey</h2>
            <p className="quiet">
              Talk comes from the connection tables of servers, from captures, from exporters of flows, and from
              captures at hosts and mirror ports.
            </p>
          </div>
        ) : (
          <div className="rehearsal">
            <div className="servicelist">
              <ul aria-label="Circles">
                {rows.map(({ id, name, hosts }) => (
                  <li key={id}>
                    <PlainButton
                      aria-current={id === chosen?.id || undefined}
                      onClick={() => view.set({ host: id, sel: null })}
                    >
                      <Glyph name="up" size={9} />
                      <span className="cut">{name}</span>
                      <span className="quiet small end">{hosts.length} hosts</span>
                    </PlainButton>
                  </li>
                ))}
              </ul>
              {data && data.shared.length > 0 && (
                <>
                  <h2 className="listhead">Asked by everybody</h2>
                  <ul aria-label="Asked by everybody">
                    {data.shared.map(({ host, service, clients }) => (
                      <li key={`${host.id} ${service}`} className="plainline">
                        <span className="cut">
                          {service} <span className="quiet small">on {host.name}</span>
                        </span>
                        <span className="quiet small end">{clients} ask</span>
                      </li>
                    ))}
                  </ul>
                </>
              )}
            </div>
            <div className="verdicts">{chosen && <CircleDetail key={chosen.id} circle={chosen} />}</div>
          </div>
        )}
      </main>
      <ChosenPanel />
    </div>
  );
}

function CircleDetail({ circle }: { circle: Circle }) {
  const view = useView();
  const go = useGo();
  const mayEdit = useMayEdit();
  const written = useWritten();
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const names = new Map(circle.hosts.map(({ id, name }) => [id, name]));
  const show = (id: string) => {
    if (/^\d+$/.test(id)) view.set({ sel: `device:${id}` });
  };
  const begin = async () => {
    setProblem(null);
    try {
      const { id } = await call<{ id: number }>('applications', { method: 'POST', body: applicationOf(circle) });
      await written();
      go(view.href('/dependencies', { of: 'applications', host: String(id), sel: 'application:edit' }));
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      setProblem(error);
    }
  };
  return (
    <section className="verdict" aria-label={circle.name}>
      <h2 className="sentence">
        {circle.hosts.length} hosts around <b>{circle.name}</b>{' '}
        <span className="quiet">{Math.round(circle.inside * 100)} % of what they say to others stays among them</span>
      </h2>
      {mayEdit && (
        <p>
          <Button variant="outlined" onClick={() => void begin()}>
            Begin an application from it
          </Button>
        </p>
      )}
      {problem && <ProblemNote problem={problem} />}
      <CircleDrawing circle={circle} onHost={show} />
      <h3>Hosts</h3>
      <p>
        {circle.hosts.map(({ id, name, site }, at) => (
          <span key={id}>
            {at > 0 && ', '}
            {/^\d+$/.test(id) ? (
              <TextButton onClick={() => show(id)}>{name}</TextButton>
            ) : (
              <span className="mono">{name}</span>
            )}
            {site && <span className="quiet small"> {site}</span>}
          </span>
        ))}
      </p>
      <h3>What they say</h3>
      <ul className="sentences">
        {circle.talks.map((talk) => (
          <li key={`${talk.client} ${talk.server} ${talk.protocol} ${talk.port}`}>{talkWords(talk, names)}</li>
        ))}
      </ul>
    </section>
  );
}

const talkWords = ({ client, server, service, protocol, port }: HostTalk, names: ReadonlyMap<string, string>): string =>
  `${names.get(client) ?? client} asks ${service ? `${service} on ` : ''}${names.get(server) ?? server}, ${protocol}/${port}`;

/** An application that begins with the hosts of a circle that are known. */
function applicationOf(circle: Circle): Application {
  const rules = new Map<string, MemberRule>();
  for (const { id } of circle.hosts) {
    if (!/^\d+$/.test(id)) continue;
    const member = { kind: 'device' as const, deviceId: Number(id) };
    rules.set(memberKey(member), { member, verdict: 'in' });
  }
  return {
    name: `Around ${circle.name}`.slice(0, 80),
    owner: '',
    criticality: 'moderate',
    contacts: [],
    note: '',
    rules: [...rules.values()],
    needed: [],
  };
}

'use client';

import { useState } from 'react';
import { ProblemNote } from '../../components/ProblemNote';
import { Glyph } from '../../components/Glyph';
import { PlainButton } from '../../components/PlainButton';
import { Panel } from '../../components/Panel';
import { PlainInput } from '../../components/PlainInput';
import { Link } from '../../components/Link';
import { TextButton } from '../../components/TextButton';
import { useView } from '../../lib/useView';
import { DependencyViews } from '../DependencyViews';
import { ChosenPanel } from '../ChosenPanel';
import { RulesPanel } from './RulesPanel';
import { ServiceDetail } from './ServiceDetail';
import { useServices, type ServiceGroup } from './useServices';

const plural = (count: number, one: string, many: string) => `${count} ${count === 1 ? one : many}`;

/** What serves whom: one service with all its instances, whoever asks it, and what nobody can explain. */
export function ServicesView() {
  const view = useView();
  const { data, error } = useServices(view.survey);
  const [find, setFind] = useState('');
  const rows = data?.rows ?? [];
  const wanted = find.trim().toLowerCase();
  const fits = (group: ServiceGroup) =>
    [
      group.name,
      group.kind,
      group.publisher,
      group.category,
      ...group.instances.flatMap(({ device, process, listeners }) => [device, process, ...listeners]),
    ].some((text) => text.toLowerCase().includes(wanted));
  const shown = wanted === '' ? rows : rows.filter(fits);
  const chosen = rows.find(({ id }) => id === view.host) ?? shown[0] ?? null;
  const unexplained = rows.filter(({ kind }) => kind === '');
  const isRules = view.sel === 'rules:all' || /^rule:/.test(view.sel ?? '');
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Services</h1>
          <span className="quiet" role="status">
            {data &&
              `${plural(rows.length, 'service', 'services')} on ${plural(new Set(rows.flatMap(({ instances }) => instances.map(({ deviceId }) => deviceId))).size, 'host', 'hosts')}`}
            {unexplained.length > 0 && `; ${plural(unexplained.length, 'is', 'are')} explained by no rule`}
          </span>
          <span className="end">
            <TextButton onClick={() => view.set({ sel: 'rules:all' })}>Rules</TextButton>{' '}
            <Link href={view.href('/estate', { of: 'services', sel: null })}>All listeners</Link>
          </span>
        </div>
        <DependencyViews current="services" />
        {error ? (
          <ProblemNote problem={error} />
        ) : data && rows.length === 0 ? (
          <div className="empty">
            <h2>No listener is known at this survey</h2>
            <p className="quiet">
              Hosts tell who listens by SNMP: TCP-MIB, UDP-MIB and HOST-RESOURCES-MIB. Let the agents of servers answer
              these, and survey them.
            </p>
          </div>
        ) : (
          <div className="rehearsal">
            <div className="servicelist">
              <PlainInput
                aria-label="Find a service"
                placeholder="a service, process, host or port"
                value={find}
                onChange={(event) => setFind(event.target.value)}
              />
              <ul aria-label="Services">
                {shown.map((group) => (
                  <li key={group.id}>
                    <PlainButton
                      aria-current={group.id === chosen?.id || undefined}
                      onClick={() => view.set({ host: group.id, sel: null })}
                    >
                      <Glyph
                        name={group.kind === '' ? 'unknown' : 'up'}
                        size={9}
                        word={group.kind === '' ? 'no rule explains it' : 'known'}
                      />
                      <span className="cut">
                        {group.name}
                        <span className="quiet small">
                          {' '}
                          {group.kind.toLowerCase() === group.name.toLowerCase() ? '' : group.kind || 'unexplained'}
                        </span>
                      </span>
                      <span className="quiet small end">
                        {[
                          group.instances.length > 1 && `on ${group.instances.length} hosts`,
                          group.clients > 0 && `${group.clients} ask`,
                        ]
                          .filter(Boolean)
                          .join(', ')}
                      </span>
                    </PlainButton>
                  </li>
                ))}
              </ul>
              {shown.length === 0 && data && <p className="quiet small">No service has “{find}” in it.</p>}
            </div>
            <div className="verdicts">{chosen && <ServiceDetail group={chosen} />}</div>
          </div>
        )}
      </main>
      {isRules ? (
        <Panel label="Rules of services">
          <RulesPanel />
        </Panel>
      ) : (
        <ChosenPanel />
      )}
    </div>
  );
}

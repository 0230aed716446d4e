'use client';

import Button from '@mui/material/Button';
import { Glyph } from '../../components/Glyph';
import { Panel } from '../../components/Panel';
import { PlainButton } from '../../components/PlainButton';
import { ProblemNote } from '../../components/ProblemNote';
import { useMayEdit } from '../../lib/person';
import { useView } from '../../lib/useView';
import { DependencyViews } from '../DependencyViews';
import { ChosenPanel } from '../ChosenPanel';
import { ApplicationDetail } from './ApplicationDetail';
import { ApplicationForm } from './ApplicationForm';
import { useApplications } from './useApplications';

/** Applications: what people put together of services and hosts, a round at a time. */
export function ApplicationsView() {
  const view = useView();
  const mayEdit = useMayEdit();
  const { data, error } = useApplications();
  const rows = data?.rows ?? [];
  const chosen = rows.find(({ id }) => String(id) === view.host) ?? rows[0] ?? null;
  const form = view.sel === 'application:new' ? 'new' : view.sel === 'application:edit' ? 'edit' : null;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Applications</h1>
          <span className="quiet">{data && (rows.length === 1 ? '1 application' : `${rows.length} applications`)}</span>
          {mayEdit && (
            <span className="end">
              <Button variant="outlined" onClick={() => view.set({ sel: 'application:new' })}>
                Begin an application
              </Button>
            </span>
          )}
        </div>
        <DependencyViews current="applications" />
        {error ? (
          <ProblemNote problem={error} />
        ) : data && rows.length === 0 ? (
          <div className="empty">
            <h2>No application has been put together yet</h2>
            <p className="quiet">
              Begin with a word of its owner, or from a circle of hosts that talk. What they talk to is proposed with
              the evidence, and you say what belongs to it. Then an outage is told by application.
            </p>
          </div>
        ) : (
          <div className="rehearsal">
            <div className="servicelist">
              <ul aria-label="Applications">
                {rows.map(({ id, name, criticality, owner }) => (
                  <li key={id}>
                    <PlainButton
                      aria-current={id === chosen?.id || undefined}
                      onClick={() => view.set({ host: String(id), sel: null })}
                    >
                      <Glyph name="up" size={9} />
                      <span className="cut">
                        {name} <span className="quiet small">{owner}</span>
                      </span>
                      <span className="quiet small end">{criticality}</span>
                    </PlainButton>
                  </li>
                ))}
              </ul>
            </div>
            <div className="verdicts">
              {chosen && data && <ApplicationDetail key={chosen.id} application={chosen} version={data.version} />}
            </div>
          </div>
        )}
      </main>
      {form && data && (form === 'new' || chosen) ? (
        <Panel label={form === 'new' ? 'A new application' : 'The application'}>
          <ApplicationForm
            key={form === 'new' ? 'new' : chosen?.id}
            application={form === 'edit' ? chosen : null}
            version={data.version}
          />
        </Panel>
      ) : (
        <ChosenPanel />
      )}
    </div>
  );
}

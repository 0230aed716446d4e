'use client';

import Button from '@mui/material/Button';
import Snackbar from '@mui/material/Snackbar';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { ScopeText } from '@/core/estate/scope';
import { useSurveys, type SurveyRow } from '../lib/useSurveys';
import { useView } from '../lib/useView';
import { call, type ApiProblem } from '../lib/api';
import { DataTable } from '../components/table/DataTable';
import { FilterField } from '../components/filter/FilterField';
import { moment } from '../lib/format';
import { useMayConfigure, useMayEdit } from '../lib/person';
import { Glyph, outcomeGlyph } from '../components/Glyph';
import { useTableLayout } from '../components/table/layout';
import { ExportMenu } from '../components/table/TableTools';
import { ChangedCertificates } from './ChangedCertificates';
import { Collectors, useCollectors } from './Collectors';
import { CredentialDialog } from '../features/survey/CredentialDialog';
import { CredentialTestDialog } from '../features/survey/CredentialTestDialog';
import { FromFiles } from './FromFiles';
import type { SavedScope, ShownCredential } from '../features/survey/savedRows';
import { LiveSurvey } from '../features/survey/LiveSurvey';
import { ScopeDialog } from '../features/survey/ScopeDialog';

/** What is asked, with what, what comes of it now, and what came of it before. */
export function SurveyWorkspace() {
  const view = useView();
  const client = useQueryClient();
  const surveys = useSurveys();
  const scopes = useQuery({ queryKey: ['scopes'], queryFn: () => call<{ rows: SavedScope[] }>('scopes') });
  const mayEdit = useMayEdit();
  const mayConfigure = useMayConfigure();
  const credentials = useQuery<{ rows: ShownCredential[] }, ApiProblem>({
    queryKey: ['credentials'],
    queryFn: () => call<{ rows: ShownCredential[] }>('credentials'),
    enabled: mayEdit,
  });
  const collectors = useCollectors();
  const [scopeForm, setScopeForm] = useState<ScopeText | 'new' | null>(null);
  const [credentialForm, setCredentialForm] = useState(false);
  const [tested, setTested] = useState<ShownCredential | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [deleted, setDeleted] = useState<{ what: string; restore: () => Promise<void> } | null>(null);
  const active = surveys.data?.active;
  const liveId = active?.surveyId ?? null;
  const past = view.past ? surveys.data?.rows.find(({ id }) => String(id) === view.past) : undefined;
  const act = async (work: () => Promise<unknown>, refresh: string[]) => {
    setProblem(null);
    try {
      await work();
    } catch (error) {
      setProblem((error as ApiProblem).words);
    }
    await Promise.all(refresh.map((key) => client.invalidateQueries({ queryKey: [key] })));
  };
  // a newcomer is led: first a credential, then a scope, then the survey
  const nextStep =
    credentials.data?.rows.length === 0 ? 'credential' : scopes.data?.rows.length === 0 ? 'scope' : 'run';
  // a survey may be over before its first progress is seen: its outcome is shown all the same
  const [begun, setBegun] = useState<number | null>(null);
  const job = useQuery<{ state: string; error: string | null; surveyId: number | null }, ApiProblem>({
    queryKey: ['job', begun],
    queryFn: () => call(`jobs/${begun ?? 0}`),
    enabled: begun !== null,
    refetchInterval: 300,
  });
  const ended = begun !== null && job.data && !['queued', 'running'].includes(job.data.state) ? job.data : null;
  useEffect(() => {
    if (!ended) return;
    setBegun(null);
    if (ended.error) setProblem(ended.error);
    if (ended.surveyId !== null && !ended.error) view.set({ past: String(ended.surveyId), survey: null });
    void client.invalidateQueries();
  }, [ended, view, client]);
  const run = (scopeId: number) =>
    act(async () => {
      const { jobId } = await call<{ jobId: number }>('surveys', { method: 'POST', body: { scopeId } });
      setBegun(jobId);
      view.set({ past: null });
    }, ['surveys']);
  return (
    <div className="area">
      <main className="work">
        {past && past.state !== 'running' ? (
          <PastSurvey survey={past} onClose={() => view.set({ past: null, where: null })} />
        ) : active ? (
          <LiveSurvey surveyId={liveId} />
        ) : (
          <div className="work scrolls">
            <div className="titleline">
              <h1>Survey</h1>
              <span className="quiet">asks the equipment once; the answer is kept for good</span>
            </div>
            {problem && (
              <div className="notice bad" role="alert" style={{ margin: '0 16px 12px' }}>
                {problem}
              </div>
            )}
            {mayEdit && <ChangedCertificates />}
            <div className="blocks">
              <section>
                <h2 className="sub">Scopes: what is asked</h2>
                {scopes.data?.rows.length === 0 && (
                  <p className="quiet">
                    No scope yet.{' '}
                    {credentials.data?.rows.length === 0
                      ? 'First add a credential, then a scope with the address ranges of your network.'
                      : 'Add one with the address ranges of your network.'}
                  </p>
                )}
                <ul className="lines">
                  {scopes.data?.rows.map(({ id, scope, calendar }) => (
                    <li key={id} style={{ justifyContent: 'space-between' }}>
                      <div>
                        <b style={{ fontWeight: 600 }}>{scope.name}</b>
                        <div className="small mono quiet">{scope.ranges.join(', ')}</div>
                        {scope.exclusions.length > 0 && (
                          <div className="small quiet">
                            without <span className="mono">{scope.exclusions.join(', ')}</span>
                          </div>
                        )}
                        {scope.translations.map((line) => (
                          <div key={line} className="small quiet mono">
                            {line}
                          </div>
                        ))}
                        {(scope.collectors ?? []).length > 0 && (
                          <div className="small quiet">asked by {scope.collectors.join(' and ')}</div>
                        )}
                        {scope.group && (
                          <div className="small quiet">
                            only devices of <b>{scope.group}</b>
                          </div>
                        )}
                        <div className="small quiet">tries {scope.credentials.join(', then ')}</div>
                        {scope.schedule && (
                          <div className="small quiet">
                            by calendar <span className="mono">{scope.schedule}</span>
                            {scope.quietHours.length > 0 && `, quiet ${scope.quietHours.join(', ')}`}:{' '}
                            {calendar.nextAt ? `next ${moment(calendar.nextAt)}` : 'never due again'}
                          </div>
                        )}
                        {calendar.missed.map(({ dueAt, outcome }) => (
                          <div key={dueAt} className="small">
                            <Glyph name="fault" word="missed" /> not surveyed {moment(dueAt)}:{' '}
                            {outcome === 'busy' ? 'another survey was still at work' : 'Bolide was not running'}
                          </div>
                        ))}
                      </div>
                      {mayEdit && (
                        <div style={{ display: 'flex', gap: 10, alignItems: 'center', flex: 'none' }}>
                          <button type="button" className="textlink" onClick={() => setScopeForm(scope)}>
                            Change
                          </button>
                          <button
                            type="button"
                            className="textlink"
                            onClick={() =>
                              void act(async () => {
                                await call(`scopes/${id}`, { method: 'DELETE' });
                                setDeleted({
                                  what: `the scope “${scope.name}”`,
                                  restore: () => act(() => call('scopes', { method: 'POST', body: scope }), ['scopes']),
                                });
                              }, ['scopes'])
                            }
                          >
                            Delete
                          </button>
                          <Button variant="contained" onClick={() => void run(id)}>
                            Run now
                          </Button>
                        </div>
                      )}
                    </li>
                  ))}
                </ul>
                {mayEdit && (
                  <p style={{ marginTop: 10 }}>
                    <Button
                      variant={nextStep === 'scope' ? 'contained' : 'outlined'}
                      onClick={() => setScopeForm('new')}
                    >
                      Add a scope
                    </Button>
                  </p>
                )}
                {mayEdit && (
                  <FromFiles
                    onStarted={(jobId) => {
                      setProblem(null);
                      setBegun(jobId);
                      void client.invalidateQueries({ queryKey: ['surveys'] });
                    }}
                  />
                )}
              </section>
              <section>
                <h2 className="sub">Credentials: with what</h2>
                {!mayEdit && (
                  <p className="quiet">Only those who run surveys see which there are; nobody is shown a secret.</p>
                )}
                {credentials.error && <p className="quiet">{credentials.error.detail}</p>}
                {credentials.data?.rows.length === 0 && (
                  <p className="quiet">No credential yet. Secrets are encrypted and never shown again.</p>
                )}
                <ul className="lines">
                  {credentials.data?.rows.map((credential) => (
                    <li key={credential.id} style={{ justifyContent: 'space-between' }}>
                      <div>
                        <b style={{ fontWeight: 600 }}>{credential.name}</b>{' '}
                        <span className="quiet small">
                          {kindWords[credential.kind] ?? credential.kind}
                          {credential.user && `, user ${credential.user}`}
                          {credential.auth && `, ${credential.auth}`}
                          {credential.priv && `, ${credential.priv}`}
                          {credential.purpose === 'write' && ', for acting on ports'}
                        </span>
                      </div>
                      <span style={{ display: 'flex', gap: 10, flex: 'none' }}>
                        <button type="button" className="textlink" onClick={() => setTested(credential)}>
                          Test
                        </button>
                        {mayConfigure && (
                          <button
                            type="button"
                            className="textlink"
                            onClick={() =>
                              void act(async () => {
                                await call(`credentials/${credential.id}`, { method: 'DELETE' });
                                setDeleted({
                                  what: `the credential “${credential.name}”`,
                                  restore: () =>
                                    act(
                                      () => call(`credentials/${credential.id}/restore`, { method: 'POST', body: {} }),
                                      ['credentials'],
                                    ),
                                });
                              }, ['credentials'])
                            }
                          >
                            Delete
                          </button>
                        )}
                      </span>
                    </li>
                  ))}
                </ul>
                {mayConfigure && (
                  <p style={{ marginTop: 10 }}>
                    <Button
                      variant={nextStep === 'credential' ? 'contained' : 'outlined'}
                      onClick={() => setCredentialForm(true)}
                    >
                      Add a credential
                    </Button>
                  </p>
                )}
              </section>
            </div>
            {/* what stands above has its height by now: nothing jumps under the pointer */}
            {scopes.isFetched && (credentials.isFetched || !mayEdit) && <Collectors />}
            <div style={{ padding: '0 16px 24px' }}>
              <h2 className="sub">Past surveys</h2>
              <PastList
                surveys={(surveys.data?.rows ?? []).filter(({ state }) => state !== 'running')}
                onOpen={(id) => view.set({ past: String(id) })}
              />
            </div>
          </div>
        )}
      </main>
      {scopeForm !== null && (
        <ScopeDialog
          initial={scopeForm === 'new' ? null : scopeForm}
          credentials={credentials.data?.rows ?? []}
          collectors={(collectors.data?.rows ?? []).map(({ name }) => name)}
          onClose={() => setScopeForm(null)}
        />
      )}
      <Snackbar
        open={deleted !== null}
        autoHideDuration={10_000}
        onClose={(_, reason) => reason !== 'clickaway' && setDeleted(null)}
        message={`Deleted ${deleted?.what ?? ''}.`}
        action={
          <Button
            size="small"
            color="inherit"
            onClick={() => {
              void deleted?.restore();
              setDeleted(null);
            }}
          >
            Undo
          </Button>
        }
      />
      {tested && (
        <CredentialTestDialog credential={tested} scopes={scopes.data?.rows ?? []} onClose={() => setTested(null)} />
      )}
      {credentialForm && <CredentialDialog onClose={() => setCredentialForm(false)} />}
    </div>
  );
}

const kindWords: Record<string, string> = {
  snmp2c: 'SNMP v2c community',
  snmp1: 'SNMP v1 community',
  snmp3: 'SNMP v3',
  redfish: 'Redfish',
  restconf: 'RESTCONF',
  controller: 'controller',
};

function PastList({ surveys, onOpen }: { surveys: SurveyRow[]; onOpen: (id: number) => void }) {
  if (surveys.length === 0) return <p className="quiet">None yet.</p>;
  return (
    <table className="plain" style={{ maxWidth: 980 }}>
      <thead>
        <tr>
          <th>Survey</th>
          <th>Began</th>
          <th>Scope</th>
          <th>State</th>
          <th>Answered</th>
          <th>Devices</th>
          <th>New</th>
          <th>Changed</th>
          <th>Replaced</th>
          <th>Silent</th>
          <th>Took</th>
        </tr>
      </thead>
      <tbody>
        {surveys.map(({ id, startedAt, scopeName, state, summary }) => (
          <tr key={id}>
            <td>
              <button type="button" className="textlink" onClick={() => onOpen(id)}>
                {id}
              </button>
            </td>
            <td>{moment(startedAt)}</td>
            <td>{scopeName}</td>
            <td>{state}</td>
            <td>{summary ? `${summary.addresses.answered} of ${summary.addresses.asked}` : '–'}</td>
            <td>{summary?.devices.found ?? '–'}</td>
            <td>{summary?.devices.new ?? '–'}</td>
            <td>{summary?.devices.changed ?? '–'}</td>
            <td>{summary?.devices.replaced ?? '–'}</td>
            <td>{summary?.devices.silent ?? '–'}</td>
            <td>{summary ? `${summary.seconds.toFixed(1)} s` : '–'}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Every address of a sealed survey with its outcome, reason and remedy. */
function PastSurvey({ survey, onClose }: { survey: SurveyRow; onClose: () => void }) {
  const view = useView();
  const layout = useTableLayout('visits');
  const { columns } = layout;
  const request = { survey: String(survey.id), where: view.where };
  return (
    <>
      <div className="titleline">
        <h1>Survey {survey.id}</h1>
        <span className="quiet" style={{ whiteSpace: 'nowrap' }}>
          {moment(survey.startedAt)}, {survey.scopeName}
          {survey.state === 'cancelled' && ', cut short'}
        </span>
        <FilterField
          about={{ thing: 'visits', survey: view.past }}
          value={view.where}
          onChange={(where) => view.set({ where })}
          hint="outcome=silent; an address"
        />
        <ExportMenu
          thing="visits"
          request={{ ...request, sort: view.sort }}
          columns={columns.map(({ name }) => name)}
        />
        <button type="button" className="textlink" onClick={onClose}>
          All surveys
        </button>
      </div>
      {survey.summary && (
        <p className="quiet small" style={{ padding: '0 16px 10px' }}>
          {Object.entries(survey.summary.phases)
            .map(([phase, seconds]) => `${phase} ${seconds.toFixed(2)} s`)
            .join(' · ')}{' '}
          (added up over all devices) · {survey.summary.seconds.toFixed(2)} s by the clock
          {survey.summary.askedAgain &&
            ` · switches were asked once more for ${survey.summary.askedAgain.machines} machines they did not list, and then told of ${survey.summary.askedAgain.heard}`}
        </p>
      )}
      <DataTable
        thing="visits"
        label={`Addresses of survey ${survey.id}`}
        request={request}
        columns={columns}
        layout={layout}
        sort={view.sort}
        onSort={(next) => view.set((now) => ({ sort: next(now('sort')) }))}
        selected={null}
        onSelect={() => undefined}
        glyph={(row) => <Glyph name={outcomeGlyph(row.outcome)} word={String(row.outcome)} />}
        empty={
          <>
            <h2>No address fits this filter</h2>
            <p className="quiet">
              <button type="button" className="textlink" onClick={() => view.set({ where: null })}>
                Empty the filter
              </button>
            </p>
          </>
        }
      />
    </>
  );
}

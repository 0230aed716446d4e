'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useSurveys } from '../lib/useSurveys';
import { useView } from '../lib/useView';
import { call, type ApiProblem } from '../lib/api';
import { useMayEdit } from '../lib/person';
import { ChangedCertificates } from './ChangedCertificates';
import { Collectors, useCollectors } from './Collectors';
import { CaptureAgents } from './CaptureAgents';
import { FlowExporters } from './FlowExporters';
import { FromCapture } from './FromCapture';
import { FromFiles } from './FromFiles';
import type { SavedScope, ShownCredential } from '../features/survey/savedRows';
import { LiveSurvey } from '../features/survey/LiveSurvey';
import { useCredentials, useScopes } from '../features/survey/useScopes';
import { CredentialList } from './CredentialList';
import { PastList } from './PastList';
import { PastSurvey } from './PastSurvey';
import { ScopeList } from './ScopeList';
import { fetched } from '../lib/fetched';

const CredentialDialog = fetched(() =>
  import('../features/survey/CredentialDialog').then((module) => module.CredentialDialog),
);
const CredentialTestDialog = fetched(() =>
  import('../features/survey/CredentialTestDialog').then((module) => module.CredentialTestDialog),
);
const ScopeDialog = fetched(() => import('../features/survey/ScopeDialog').then((module) => module.ScopeDialog));

/** What is asked, with what, what comes of it now, and what came of it before. */
export function SurveyWorkspace() {
  const view = useView();
  const client = useQueryClient();
  const surveys = useSurveys();
  const scopes = useScopes();
  const mayEdit = useMayEdit();
  const credentials = useCredentials(mayEdit);
  const collectors = useCollectors();
  const [scopeForm, setScopeForm] = useState<SavedScope | 'new' | null>(null);
  const [credentialForm, setCredentialForm] = useState(false);
  const [tested, setTested] = useState<ShownCredential | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const active = surveys.data?.active;
  const liveId = active?.surveyId ?? null;
  const past = view.past ? surveys.data?.rows.find(({ id }) => String(id) === view.past) : undefined;
  // a newcomer is led: first a credential, then a scope, then the survey
  const nextStep = credentials.data?.length === 0 ? 'credential' : scopes.data?.length === 0 ? 'scope' : 'run';
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
  const run = async (scopeId: number) => {
    setProblem(null);
    try {
      const { jobId } = await call<{ jobId: number }>('surveys', { method: 'POST', body: { scopeId } });
      setBegun(jobId);
      view.set({ past: null });
    } catch (error) {
      setProblem((error as ApiProblem).words);
    }
    await client.invalidateQueries({ queryKey: ['surveys'] });
  };
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
              <ScopeList
                hasCredentials={credentials.data?.length !== 0}
                isNext={nextStep === 'scope'}
                onChange={setScopeForm}
                onRun={(id) => void run(id)}
              >
                {mayEdit && (
                  <>
                    <FromFiles
                      onStarted={(jobId) => {
                        setProblem(null);
                        setBegun(jobId);
                        void client.invalidateQueries({ queryKey: ['surveys'] });
                      }}
                    />
                    <FromCapture />
                  </>
                )}
              </ScopeList>
              <CredentialList
                isNext={nextStep === 'credential'}
                onTest={setTested}
                onAdd={() => setCredentialForm(true)}
              />
            </div>
            {/* what stands above has its height by now: nothing jumps under the pointer */}
            {scopes.isFetched && (credentials.isFetched || !mayEdit) && (
              <>
                <Collectors />
                <FlowExporters />
                <CaptureAgents />
              </>
            )}
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
      {/* a new scope begins with the credentials there are: it waits until they are known */}
      {scopeForm !== null && !credentials.isPending && (
        <ScopeDialog
          initial={scopeForm === 'new' ? null : scopeForm}
          credentials={credentials.data ?? []}
          collectors={(collectors.data?.rows ?? []).map(({ name }) => name)}
          onClose={() => setScopeForm(null)}
        />
      )}
      {tested && (
        <CredentialTestDialog credential={tested} scopes={scopes.data ?? []} onClose={() => setTested(null)} />
      )}
      {credentialForm && <CredentialDialog onClose={() => setCredentialForm(false)} />}
    </div>
  );
}

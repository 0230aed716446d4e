'use client';

import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Link } from '@/ui/components/Link';
import { sealedOf, useSurveys } from '../lib/useSurveys';
import { useView } from '../lib/useView';
import { call, type ApiProblem } from '../lib/api';
import { Glyph } from '../components/Glyph';
import { usePerson } from '../lib/person';
import { usePreference } from '../lib/usePreference';
import { CredentialDialog } from '../features/survey/CredentialDialog';
import { CredentialTestDialog } from '../features/survey/CredentialTestDialog';
import { LiveSurvey } from '../features/survey/LiveSurvey';
import type { ShownCredential } from '../features/survey/savedRows';
import { useCredentials, useScopes } from '../features/survey/useScopes';
import { ScopeDialog } from '../features/survey/ScopeDialog';
import { MailForm, useMail } from '../features/mail/MailForm';
import { TextButton } from '../components/TextButton';

/** Setting up, from the administrator to the true list, on one page that goes on where one left it. */
export function BeginPage() {
  const view = useView();
  const client = useQueryClient();
  const person = usePerson();
  const surveys = useSurveys();
  const mail = useMail(person.role === 'administrator');
  const credentials = useCredentials(true);
  const scopes = useScopes();
  const [withoutMail, setWithoutMail] = usePreference('begin.withoutMail', false);
  const [open, setOpen] = useState<'mail' | null>(null);
  const [dialog, setDialog] = useState<'credential' | 'scope' | null>(null);
  const [tested, setTested] = useState<ShownCredential | null>(null);
  const [problem, setProblem] = useState('');
  const router = useRouter();
  // a survey that was begun here ends on the true list, if anything answered
  const begun = useRef(false);
  const found = sealedOf(surveys.data).at(-1)?.summary?.devices.found ?? 0;
  const running = Boolean(surveys.data?.active);
  useEffect(() => {
    if (running || !begun.current) return;
    begun.current = false;
    if (found > 0) router.push('/estate');
  }, [running, found, router]);
  if (person.role !== 'administrator')
    return (
      <main className="work">
        <div className="empty">
          <h2>Setting up is an administrator’s work</h2>
          <p className="quiet">
            <Link href={view.href('/today')}>To Today</Link>
          </p>
        </div>
      </main>
    );
  if (surveys.data?.active)
    return (
      <main className="work">
        <LiveSurvey surveyId={surveys.data.active.surveyId} />
      </main>
    );
  if (!mail.data || !credentials.data || !scopes.data || !surveys.data)
    return (
      <main className="work">
        <div className="empty quiet">reading…</div>
      </main>
    );
  const sealed = sealedOf(surveys.data);
  const last = sealed.at(-1);
  const [scope] = scopes.data;
  const mailDone = mail.data.server !== null || withoutMail;
  const steps = [true, mailDone, credentials.data.length > 0, scopes.data.length > 0, sealed.length > 0];
  const next = steps.indexOf(false);
  const run = async (scopeId: number) => {
    setProblem('');
    try {
      await call('surveys', { method: 'POST', body: { scopeId } });
      await client.invalidateQueries({ queryKey: ['surveys'] });
      begun.current = true;
    } catch (error) {
      setProblem((error as ApiProblem).words);
    }
  };
  const step = (at: number, title: string, said: ReactNode, body: ReactNode) => (
    <li key={title} className={`step ${at === next ? 'next' : ''}`} aria-current={at === next ? 'step' : undefined}>
      <div className="mark">
        <Glyph
          name={steps[at] ? 'up' : at === next ? 'silent' : 'unknown'}
          word={steps[at] ? 'done' : at === next ? 'next' : 'later'}
        />
      </div>
      <div>
        <h2>{title}</h2>
        {said && <p className="quiet">{said}</p>}
        {body}
      </div>
    </li>
  );
  return (
    <main className="work scrolls">
      <div className="titleline">
        <h1>Setting up</h1>
        <span className="quiet">
          {next < 0 ? 'done' : `step ${next + 1} of ${steps.length}`}; you can leave and come back, what is saved stays
        </span>
      </div>
      <ol className="steps">
        {step(0, 'Administrator', `${person.name} may configure everything. Others are added in Settings.`, null)}
        {step(
          1,
          'Mail',
          mail.data.server && open !== 'mail' ? (
            <>
              {mail.data.server.host} port {mail.data.server.port}, from {mail.data.server.from}.{' '}
              <TextButton onClick={() => setOpen('mail')}>Change or test</TextButton>
            </>
          ) : withoutMail && open !== 'mail' ? (
            <>
              Without mail for now. <TextButton onClick={() => setOpen('mail')}>Set it</TextButton>
            </>
          ) : (
            'So that Bolide can write to you: about checks, reports and what broke.'
          ),
          (!mailDone || open === 'mail') && (
            <div className="stepbody">
              <MailForm state={mail.data} />
              {!mail.data.server && (
                <p style={{ marginTop: 8 }}>
                  <TextButton
                    onClick={() => {
                      setWithoutMail(true);
                      setOpen(null);
                    }}
                  >
                    Go on without mail
                  </TextButton>
                </p>
              )}
            </div>
          ),
        )}
        {step(
          2,
          'Credentials',
          credentials.data.length === 0
            ? 'With what the equipment is asked: an SNMP user or community, or the user of a management controller. Secrets are encrypted and never shown again.'
            : null,
          <>
            {credentials.data.length > 0 && (
              <ul className="small">
                {credentials.data.map((credential) => (
                  <li key={credential.id}>
                    {credential.name}{' '}
                    <span className="quiet">
                      {credential.kind}
                      {credential.user && `, user ${credential.user}`}
                    </span>{' '}
                    <TextButton onClick={() => setTested(credential)}>Test</TextButton>
                  </li>
                ))}
              </ul>
            )}
            <p style={{ marginTop: 6 }}>
              <Button variant={next === 2 ? 'contained' : 'outlined'} onClick={() => setDialog('credential')}>
                Add a credential
              </Button>
            </p>
          </>,
        )}
        {step(
          3,
          'Address ranges',
          scope ? null : 'Which addresses are asked. Begin with one site: more can be added at any time.',
          <>
            {scopes.data.map(({ id, scope: { name, ranges } }) => (
              <p key={id}>
                {name}: <span className="mono small">{ranges.join(', ')}</span>
              </p>
            ))}
            <p style={{ marginTop: 6 }}>
              <Button
                variant={next === 3 ? 'contained' : 'outlined'}
                disabled={credentials.data.length === 0}
                onClick={() => setDialog('scope')}
              >
                {scope ? 'Add another scope' : 'Add a scope'}
              </Button>
            </p>
          </>,
        )}
        {step(
          4,
          'First survey',
          last
            ? `${last.summary?.devices.found ?? 0} devices found, ${last.summary?.addresses.answered ?? 0} of ${last.summary?.addresses.asked ?? 0} addresses answered.`
            : 'Every address is asked once; you see each answer as it comes, and of what did not answer, why and what to do.',
          <>
            {problem && (
              <p role="alert" className="bad">
                {problem}
              </p>
            )}
            <p style={{ marginTop: 6, display: 'flex', gap: 12, alignItems: 'center' }}>
              {last && (
                <Link href={view.href('/estate', { sel: null })}>
                  <b>See the list</b>
                </Link>
              )}
              {last && (
                <Link href={view.href('/survey', { past: String(last.id), sel: null })}>
                  what did not answer, and why
                </Link>
              )}
              {scope && (
                <Button variant={next === 4 ? 'contained' : 'outlined'} onClick={() => void run(scope.id)}>
                  {last ? 'Survey again' : 'Run the first survey'}
                </Button>
              )}
              {!scope && <span className="quiet small">needs a scope first</span>}
            </p>
          </>,
        )}
      </ol>
      {dialog === 'credential' && <CredentialDialog onClose={() => setDialog(null)} />}
      {dialog === 'scope' && (
        <ScopeDialog initial={null} credentials={credentials.data} collectors={[]} onClose={() => setDialog(null)} />
      )}
      {tested && <CredentialTestDialog credential={tested} scopes={scopes.data} onClose={() => setTested(null)} />}
    </main>
  );
}

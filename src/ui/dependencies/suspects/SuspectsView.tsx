'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { ThingKind } from '@/core/dependency/graph';
import { silentToken } from '@/core/dependency/silentToken';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { Link } from '../../components/Link';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';
import { DependencyViews } from '../DependencyViews';
import { ChosenPanel } from '../ChosenPanel';
import { ThingLink } from '../ThingLink';
import { ThingsField, tokensIn } from '../ThingsField';

interface Suspect {
  kind: ThingKind | 'link';
  id: string;
  name: string;
  score: number;
  explains: string[];
  missing: string[];
  why: string;
  next: string;
}

interface Suspicion {
  survey: number;
  down: string[];
  slow: string[];
  rows: Suspect[];
}

const firstShown = 8;

/** What several symptoms share: ranked causes, each with what it explains and what to look at next. */
export function SuspectsView() {
  const view = useView();
  const [all, setAll] = useState(false);
  const [down, slow] = [tokensIn(view.down), tokensIn(view.slow)];
  const named = down.length + slow.length;
  const { data, error, isFetching } = useQuery<Suspicion, ApiProblem>({
    queryKey: ['suspects', down.join(','), slow.join(','), view.survey],
    enabled: named > 0,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call(
        `suspects?${new URLSearchParams({ down: down.join(','), ...(slow.length > 0 && { slow: slow.join(',') }), ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  const rows = named > 0 && !error ? (data?.rows ?? []) : [];
  // a token may stand for many
  const seen = data ? data.down.length + data.slow.length : named;
  const [best] = rows;
  const names = new Map<string, string>();
  down.forEach((token, at) => {
    const name = data?.down[at];
    if (name && /^(device|machine|service|endpoint):/.test(token) && data.down.length === down.length)
      names.set(token, name);
  });
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Suspects</h1>
          <span className="quiet" role="status">
            {isFetching && 'looking for what they share…'}
          </span>
        </div>
        <DependencyViews current="suspects" />
        <div className="rehearsal">
          <div className="plans">
            <ThingsField
              label="What is down"
              tokens={down}
              survey={view.survey}
              mistake={error && error.errors.length > 0 ? error.words : null}
              wordsOf={(token) => names.get(token)}
              onChange={(tokens) => view.set({ down: tokens.join(',') })}
            />
            <ThingsField
              label="What goes on, but badly"
              tokens={slow}
              survey={view.survey}
              mistake={null}
              wordsOf={() => undefined}
              onChange={(tokens) => view.set({ slow: tokens.join(',') })}
            />
            {down.length > 0 && (
              <p className="small">
                <Link href={view.href('/dependencies', { of: 'rehearse', down: view.down, sel: null })}>
                  Rehearse their loss
                </Link>
              </p>
            )}
          </div>
          <div className="verdicts" aria-busy={isFetching}>
            {error && error.errors.length === 0 && <ProblemNote problem={error} />}
            {named === 0 && (
              <div className="empty">
                <h2>What do they share?</h2>
                <p className="quiet">
                  Name what is down at the left, or paste names and addresses as they come in. What all of them rest on
                  is ranked by how much of it would be explained, and by what would be down too but was not named.
                </p>
                <Silent />
              </div>
            )}
            {rows.length > 0 && (
              <section className="verdict" aria-label="Suspects, the likeliest first">
                <h2 className="sentence" aria-live="polite">
                  {best && best.explains.length === seen && seen > 1 ? (
                    <>
                      All of it would follow if <b>{best.name}</b> were down.
                    </>
                  ) : best && 2 * best.explains.length < seen ? (
                    <>
                      Nothing explains most of it; <b>{best.name}</b> would explain {best.explains.length} of {seen}.
                    </>
                  ) : best ? (
                    <>
                      <b>{best.name}</b> explains most.
                    </>
                  ) : null}
                </h2>
                {best && 2 * best.explains.length < seen && seen > firstShown && (
                  <p className="quiet">
                    So many at once may share what no survey sees: the line from here, a credential, a filter on the
                    way.
                  </p>
                )}
                <ol className="suspects">
                  {(all ? rows : rows.slice(0, firstShown)).map((suspect) => (
                    <SuspectLine key={`${suspect.kind} ${suspect.id}`} suspect={suspect} named={seen} />
                  ))}
                </ol>
                {!all && rows.length > firstShown && (
                  <TextButton onClick={() => setAll(true)}>
                    {rows.length - firstShown === 1
                      ? 'One less likely'
                      : `${rows.length - firstShown} less likely ones`}
                  </TextButton>
                )}
              </section>
            )}
            {named > 0 && data && !error && !isFetching && rows.length === 0 && (
              <div className="empty">
                <h2>Nothing known would explain it</h2>
                <p className="quiet">No link, host, gateway or service that they rest on is known at this survey.</p>
              </div>
            )}
          </div>
        </div>
      </main>
      <ChosenPanel />
    </div>
  );
}

const barWidth = 120;

/** What the survey itself found down is one press away. */
function Silent() {
  const view = useView();
  const { data } = useQuery<{ total: number }, ApiProblem>({
    queryKey: ['silent', view.survey],
    queryFn: ({ signal }) =>
      call(
        `devices?${new URLSearchParams({ where: 'state=silent', size: '1', ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  if (!data || data.total === 0) return null;
  return (
    <p>
      <TextButton onClick={() => view.set({ down: silentToken })}>
        {data.total === 1
          ? 'One device does not answer: what would explain it?'
          : `${data.total} devices do not answer: what do they share?`}
      </TextButton>
    </p>
  );
}

/** Full: what it explains. Hollow: what would be down too and was not named; so many as were named fill the bar. */
function SuspectLine({ suspect, named }: { suspect: Suspect; named: number }) {
  const view = useView();
  const { kind, id, name, explains, missing, why, next } = suspect;
  const full = Math.min(1, explains.length / Math.max(named, 1)) * barWidth;
  const hollow = Math.min(1, missing.length / Math.max(named, 1)) * barWidth;
  const words = `explains ${explains.length} of ${named}${missing.length > 0 ? `; ${missing.length} more would be down` : ''}`;
  return (
    <li>
      <div className="bars" role="img" aria-label={words}>
        <span className="full" style={{ width: full }} />
        {hollow > 0 && <span className="hollow" style={{ width: hollow }} />}
      </div>
      <div>
        {kind === 'link' ? (
          <Link href={view.href('/map', { sel: `link:${id}` })}>the link {name}</Link>
        ) : (
          <ThingLink thing={{ kind, id, name }} />
        )}{' '}
        <span className="why">{why}.</span>
        <div className="quiet small">{next}</div>
      </div>
    </li>
  );
}

'use client';

import { useQuery } from '@tanstack/react-query';
import { usePathname } from 'next/navigation';
import { useId, useState } from 'react';
import type { ThingKind } from '@/core/dependency/graph';
import type { RestKind } from '@/core/dependency/restsOn';
import { shareWords } from '@/core/dependency/saidNeed';
import { Link } from '@/ui/components/Link';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { call, type ApiProblem } from '../../lib/api';
import { moment } from '../../lib/format';
import { useView } from '../../lib/useView';

interface Named {
  kind: ThingKind;
  id: string;
  name: string;
}

interface Resting {
  kind: RestKind;
  of: string;
  atLeast: number;
  on: (Named & { proof: string[]; seen: string; isMutual: boolean })[];
}

interface Answer {
  of: Named;
  rests: Resting[];
  services: { of: Named; rests: Resting[] }[];
}

/** So many of those that stand in for each other are named. */
const mostNamed = 6;

export function useRestsOn(of: string) {
  const { survey } = useView();
  return useQuery<Answer, ApiProblem>({
    queryKey: ['rests-on', of, survey],
    queryFn: ({ signal }) =>
      call<Answer>(`rests-on?${new URLSearchParams({ of, ...(survey && { survey: String(survey) }) }).toString()}`, {
        signal,
      }),
    retry: false,
  });
}

/** What a thing rests on, one step far; how each is known is one press away. */
export function RestsOn({ of }: { of: string }) {
  const [isProved, setProved] = useState(false);
  const list = useId();
  const { data, error } = useRestsOn(of);
  // what is in no survey rests on nothing that is known
  if (error?.errors.length) return null;
  const isEmpty = data && data.rests.length === 0 && data.services.length === 0;
  return (
    <section className="section small" aria-label="What it rests on">
      <h3>
        What it rests on{' '}
        {data && !isEmpty && (
          <TextButton aria-expanded={isProved} aria-controls={list} onClick={() => setProved(!isProved)}>
            {isProved ? 'without the evidence' : 'how it is known'}
          </TextButton>
        )}
      </h3>
      {error && <ProblemNote problem={error} />}
      {!data && !error && <p className="quiet">following it…</p>}
      {isEmpty && <p className="quiet">Nothing that is known.</p>}
      <div id={list}>
        {data?.rests.map((one, at) => (
          <OneResting key={at} of={one} isProved={isProved} />
        ))}
        {data?.services.map(({ of: service, rests }) => (
          <div key={service.id}>
            <p style={{ marginTop: 6 }}>
              Its <b>{processOf(service)}</b>
            </p>
            <div className="inset">
              {rests.map((one, at) => (
                <OneResting key={at} of={one} isProved={isProved} />
              ))}
            </div>
          </div>
        ))}
      </div>
    </section>
  );
}

/** Of a service its process alone: its host is known here. */
const processOf = ({ id }: Named): string => id.slice(id.indexOf(' ') + 1);

function OneResting({ of: { kind, of, atLeast, on }, isProved }: { of: Resting; isProved: boolean }) {
  const [all, setAll] = useState(false);
  const shown = all || isProved ? on : on.slice(0, mostNamed);
  const left = on.length - shown.length;
  return (
    <div>
      <p>
        {openings(kind, of, on.length)} {shareWords(atLeast, on.length)}
        {shown.map((one, at) => (
          <span key={`${one.kind} ${one.id}`}>
            {at > 0 && (at === on.length - 1 ? ' and ' : ', ')}
            <NameOf thing={one} />
          </span>
        ))}
        {left > 0 && (
          <>
            {' '}
            <TextButton onClick={() => setAll(true)}>and {left} more</TextButton>
          </>
        )}
        {atLeast === 0 && kind === 'talks to' && <span className="quiet">, and goes on without for a while</span>}
        {on.length > 0 && on.every(({ isMutual }) => isMutual) && (
          <span className="quiet">, and the other way round</span>
        )}
      </p>
      {isProved && (
        <ul className="quiet inset">
          {on.flatMap((one) =>
            evidenceOf(one).map((words) => (
              <li key={`${one.kind} ${one.id} ${words}`}>
                {on.length > 1 && `${one.name}: `}
                {words}
              </li>
            )),
          )}
        </ul>
      )}
    </div>
  );
}

function evidenceOf({ proof, seen }: Resting['on'][number]): string[] {
  const when = seen ? `; last seen ${moment(seen)}` : '';
  if (proof.length === 0) return when ? [when.slice(2)] : [];
  return proof.map((words) => `${words}${when}`);
}

function openings(kind: RestKind, of: string, count: number): string {
  switch (kind) {
    case 'attached to':
      return count > 1 ? 'Reaches the rest over' : 'Attached to';
    case 'gateway of':
      return `Gateway of ${of}:`;
    case 'runs on':
      return 'Runs on';
    case 'hosted by':
      return 'Hosted by';
    case 'powered by':
      return 'Power from';
    case 'member of':
      return `Its ${of}:`;
    case 'talks to':
      return 'Asks';
    case 'replicates with':
      return 'Keeps a copy with';
    case 'stated':
      return 'Rests on, as people say,';
  }
}

/** In the workspace of dependences one is followed to the next beside the work; elsewhere to where it is told of. */
function NameOf({ thing: { kind, id, name } }: { thing: Named }) {
  const view = useView();
  if (usePathname().startsWith('/dependencies'))
    return <TextButton onClick={() => view.set({ sel: `${kind}:${id}` })}>{name}</TextButton>;
  const hrefs: Record<ThingKind, () => string> = {
    device: () => view.href(`/estate/${id}`),
    // a service stands with the others of its host
    service: () => view.href(`/estate/${id.split(' ')[0]}`),
    machine: () => view.href('/estate', { of: 'machines', sel: `machine:${id}` }),
    endpoint: () => view.href('/estate', { of: 'endpoints', sel: `endpoint:${id}` }),
    application: () => view.href('/dependencies', { of: 'applications', host: id, sel: null }),
  };
  return <Link href={hrefs[kind]()}>{name}</Link>;
}

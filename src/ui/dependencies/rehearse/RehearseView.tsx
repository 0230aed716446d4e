'use client';

import { useMemo } from 'react';
import { ProblemNote } from '../../components/ProblemNote';
import { TextButton } from '../../components/TextButton';
import { useView } from '../../lib/useView';
import { DependencyViews } from '../DependencyViews';
import { ChosenPanel } from '../ChosenPanel';
import { ThingsField, tokensIn } from '../ThingsField';
import { OutageMap } from './OutageMap';
import { PlannedWorks } from './PlannedWorks';
import { SaidNeeds } from './SaidNeeds';
import { SingleStops } from './SingleStops';
import { useRehearsal } from './useRehearsal';
import { Verdict } from './Verdict';

/** What stops if some things go down: one plan, or two beside each other. */
export function RehearseView() {
  const view = useView();
  const [first, second] = [tokensIn(view.down), tokensIn(view.instead)];
  const plan = useRehearsal(first, view.survey);
  const other = useRehearsal(second, view.survey);
  const names = useMemo(() => {
    const told = [plan.data, other.data].flatMap((one) => one ?? []);
    return new Map<string, string>([
      ...told.flatMap(({ chosen }) => chosen.map(({ kind, id, name }) => [`${kind}:${id}`, name] as const)),
      ...told.flatMap(({ cut }) => cut.map(({ port, name }) => [`port:${port}`, name] as const)),
    ]);
  }, [plan.data, other.data]);
  // a name that is one thing is that thing
  const [only] = plan.data?.chosen ?? [];
  const meant = first.length === 1 && only && plan.data?.chosen.length === 1 ? [`${only.kind}:${only.id}`] : first;
  const isSecond = view.instead !== null;
  const mistakeOf = (of: typeof plan) => (of.error && of.error.errors.length > 0 ? of.error.words : null);
  const outage = (of: typeof plan, tokens: string[]) => (tokens.length > 0 && !of.error ? of.data : undefined);
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Rehearse an outage</h1>
          <span className="quiet" role="status">
            {(plan.isFetching || other.isFetching) && 'thinking it through…'}
          </span>
        </div>
        <DependencyViews current="rehearse" />
        <div className="rehearsal">
          <div className="plans">
            <ThingsField
              label={isSecond ? 'Plan 1: what goes down' : 'What goes down'}
              tokens={first}
              survey={view.survey}
              mistake={mistakeOf(plan)}
              wordsOf={(token) => names.get(token)}
              onChange={(tokens) => view.set({ down: tokens.join(',') })}
            />
            {isSecond ? (
              <>
                <ThingsField
                  label="Plan 2: what goes down instead"
                  tokens={second}
                  survey={view.survey}
                  mistake={mistakeOf(other)}
                  wordsOf={(token) => names.get(token)}
                  onChange={(tokens) => view.set({ instead: tokens.join(',') || ' ' })}
                />
                <p className="small">
                  <TextButton onClick={() => view.set({ instead: null })}>One plan only</TextButton>
                </p>
              </>
            ) : (
              first.length > 0 && (
                <p className="small">
                  <TextButton onClick={() => view.set({ instead: ' ' })}>Compare with another plan</TextButton>
                </p>
              )
            )}
            <SaidNeeds tokens={plan.error ? [] : meant} wordsOf={(token) => names.get(token)} />
            <PlannedWorks tokens={first} />
            <p className="quiet small">
              A device, a machine, a service, an endpoint; a whole site, as RPW; a network, as 10.72.4.0/22. Names from
              a mail may be pasted, with commas between them. The time strip above rehearses any earlier moment.
            </p>
          </div>
          <div className="verdicts" aria-busy={plan.isFetching || other.isFetching}>
            {plan.error && plan.error.errors.length === 0 && <ProblemNote problem={plan.error} />}
            {plan.error && plan.error.errors.length > 0 && (
              <div className="verdict">
                <h2 className="sentence">Nothing is rehearsed yet</h2>
                <p className="quiet">{plan.error.words}. Take it out at the left, or name it as it is called.</p>
              </div>
            )}
            {first.length === 0 && (
              <div className="verdict">
                <h2 className="sentence">What stops if you take something away?</h2>
                <p className="quiet">
                  Name it at the left. What is lost, what only loses its spare and what is untouched is told from links,
                  VLANs, gateways, hosts of machines, power and talk, as they were at the survey viewed.
                </p>
                <SingleStops />
              </div>
            )}
            {outage(plan, first) && (
              <Verdict rehearsal={outage(plan, first)!} against={isSecond ? outage(other, second) : undefined} />
            )}
            {isSecond && outage(other, second) && (
              <Verdict rehearsal={outage(other, second)!} against={outage(plan, first)} />
            )}
            {!isSecond && outage(plan, first) && <OutageMap rehearsal={outage(plan, first)!} />}
          </div>
        </div>
      </main>
      <ChosenPanel />
    </div>
  );
}

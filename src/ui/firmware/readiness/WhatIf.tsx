'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Verdict } from '@/core/firmware/readiness';
import type { Obstacle } from '@/core/firmware/whatIf';
import { CheckBox } from '../../components/CheckBox';
import { Glyph, verdictGlyph } from '../../components/Glyph';
import { Link } from '../../components/Link';
import { PlainInput } from '../../components/PlainInput';
import { ProblemNote } from '../../components/ProblemNote';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';

interface Outlook {
  verdicts: { verdict: Verdict; now: number; then: number }[];
  obstacles: { kind: Obstacle; held: number; alone: number }[];
  shopping: { kind: Obstacle; model: string; needed: string; count: number }[];
  becomes: { id: string; deviceId: number; device: string; model: string; target: string }[];
  becoming: number;
}

/** What would be done, in words. */
const doneWords: Readonly<Record<Obstacle, string>> = {
  memory: 'memory enough everywhere',
  hardware: 'other hardware everywhere',
  cover: 'cover for all',
  flash: 'flash cleared',
  boot: 'boot code done everywhere',
  intermediate: 'releases on the way done',
  component: 'other parts done',
  mixed: 'supervisors and stacks made one',
  configuration: 'configurations saved',
  clock: 'clocks set',
  image: 'images there',
  maintenance: 'works over',
  stage: 'try-outs over',
  answer: 'all asked again',
  unknown: 'all that is not known were enough',
};
const buyWords: Readonly<Partial<Record<Obstacle, string>>> = {
  memory: 'memory',
  hardware: 'hardware',
  cover: 'cover',
};

/** How many would be ready if some of what holds them back were done, and what would have to be bought. */
export function WhatIf({ survey, where }: { survey: string | null; where: string }) {
  const view = useView();
  const [done, setDone] = useState<ReadonlySet<Obstacle>>(new Set());
  const [modules, setModules] = useState<ReadonlyMap<string, string>>(new Map());
  const memory = [...modules].filter(([, count]) => /^\d{1,6}$/.test(count) && Number(count) > 0);
  const asked = new URLSearchParams({
    ...(survey && { survey }),
    ...(where && { where }),
    ...(done.size > 0 && { done: [...done].join(',') }),
    ...(memory.length > 0 && { memory: memory.map(([model, count]) => `${model}:${count}`).join(',') }),
  }).toString();
  const { data, error } = useQuery<Outlook, ApiProblem>({
    queryKey: ['readiness-outlook', asked],
    queryFn: ({ signal }) => call<Outlook>(`readiness-outlook?${asked}`, { signal }),
    placeholderData: keepPreviousData,
  });
  if (error) return <ProblemNote problem={error} />;
  if (!data) return <p className="quiet">working it out…</p>;
  const toggle = (kind: Obstacle) => {
    const next = new Set(done);
    if (!next.delete(kind)) next.add(kind);
    setDone(next);
  };
  const needsMemory = data.shopping.filter(({ kind }) => kind === 'memory');
  return (
    <>
      <h2>What if</h2>
      <p aria-live="polite">
        {data.verdicts
          .filter(({ now, then }) => now + then > 0)
          .map(({ verdict, now, then }) => (
            <span key={verdict} style={{ display: 'block' }}>
              <Glyph name={verdictGlyph(verdict)} word={verdict} /> {verdict} {now}
              {then !== now && (
                <>
                  {' → '}
                  <b>{then}</b>
                </>
              )}
            </span>
          ))}
      </p>
      {data.obstacles.length === 0 ? (
        <p className="quiet">Nothing holds anything back.</p>
      ) : (
        <section className="whatif" aria-label="What would be done">
          <h3>If there were</h3>
          {data.obstacles.map(({ kind, held, alone }) => (
            <div key={kind}>
              <CheckBox
                checked={done.has(kind)}
                onChange={() => toggle(kind)}
                label={
                  <>
                    {doneWords[kind]}{' '}
                    <span className="quiet small">
                      holds back {held}
                      {alone === held ? ' by itself' : alone > 0 && `, ${alone} of them by itself`}
                    </span>
                  </>
                }
              />
            </div>
          ))}
        </section>
      )}
      {needsMemory.length > 0 && !done.has('memory') && (
        <section className="whatif" aria-label="Memory for some">
          <h3>Or memory for some</h3>
          {needsMemory.map(({ model, needed, count }) => (
            <p key={`${model} ${needed}`} className="small">
              <span className="releasefind">
                <PlainInput
                  aria-label={`Devices of ${model} that get memory`}
                  inputMode="numeric"
                  value={modules.get(model) ?? ''}
                  placeholder="0"
                  style={{ width: 52 }}
                  onChange={({ target }) => setModules(new Map(modules).set(model, target.value.trim()))}
                />
              </span>{' '}
              of {count} {model}, {needed} each
            </p>
          ))}
        </section>
      )}
      {data.shopping.length > 0 && (
        <section className="whatif" aria-label="What would have to be bought">
          <h3>To be bought</h3>
          <table className="plain">
            <tbody>
              {data.shopping.map(({ kind, model, needed, count }) => (
                <tr key={`${kind} ${model} ${needed}`}>
                  <td>{count} ×</td>
                  <td>{model}</td>
                  <td>
                    {buyWords[kind]} {kind === 'cover' ? '' : needed}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {data.becoming > 0 && (
        <section className="whatif" aria-label="Who becomes ready">
          <h3>{data.becoming === 1 ? 'One becomes ready' : `${data.becoming} become ready`}</h3>
          <p className="small">
            {data.becomes.map(({ id, deviceId, device }, at) => (
              <span key={id}>
                {at > 0 && ', '}
                <Link href={view.href('/estate', { of: null, sel: `device:${deviceId}`, where: null })}>{device}</Link>
              </span>
            ))}
          </p>
        </section>
      )}
    </>
  );
}

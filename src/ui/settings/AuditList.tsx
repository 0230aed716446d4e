'use client';

import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, type ApiProblem } from '../lib/api';
import { moment } from '../lib/format';
import { ProblemNote } from '../components/ProblemNote';
import { TextButton } from '../components/TextButton';
import { PlainInput } from '../components/PlainInput';
import { Hint } from '../components/Hint';

interface ActPage {
  rows: { id: number; at: string; who: string; act: string; subject: string }[];
  total: number;
}

const atOnce = 30;

/** Who did what, and when: every act that changed equipment, data or settings. */
export function AuditList() {
  const [text, setText] = useState('');
  const { data, error, fetchNextPage, hasNextPage } = useInfiniteQuery<
    ActPage,
    ApiProblem,
    { pages: ActPage[] },
    string[],
    number | null
  >({
    queryKey: ['audit', text],
    queryFn: ({ pageParam, signal }) =>
      call<ActPage>(
        `audit?${new URLSearchParams({ size: String(atOnce), ...(text.trim() && { text: text.trim() }), ...(pageParam !== null && { before: String(pageParam) }) }).toString()}`,
        { signal },
      ),
    initialPageParam: null,
    getNextPageParam: ({ rows }) => (rows.length < atOnce ? undefined : rows.at(-1)?.id),
    placeholderData: keepPreviousData,
    refetchInterval: 10_000,
  });
  const rows = data?.pages.flatMap((page) => page.rows) ?? [];
  return (
    <div className="blocks" style={{ gridTemplateColumns: 'minmax(0, 1fr)' }}>
      <section>
        <p className="quiet small">
          Every act that changed equipment, data or settings, newest first. Nobody can take a line away.
        </p>
        <p style={{ padding: '6px 0' }}>
          <PlainInput
            type="search"
            aria-label="Acts that hold"
            placeholder="who, what, or a day like 2026-11-26"
            className="plainfield"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />{' '}
          <span className="quiet" aria-live="polite">
            {data && `${data.pages[0]?.total.toLocaleString('en') ?? 0}`}
          </span>
        </p>
        {error && <ProblemNote problem={error} />}
        {data && rows.length === 0 && <p className="quiet">Nothing fits.</p>}
        {rows.length > 0 && (
          <table className="plain" aria-label="What was done">
            <thead>
              <tr>
                <th>When</th>
                <th>Who</th>
                <th>What</th>
                <th>Of what</th>
              </tr>
            </thead>
            <tbody>
              {rows.map(({ id, at, who, act, subject }) => (
                <tr key={id}>
                  <Hint words={at}>
                    <td style={{ whiteSpace: 'nowrap' }}>{moment(at)}</td>
                  </Hint>
                  <td>{who}</td>
                  <td>{act}</td>
                  <td>{subject}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {hasNextPage && (
          <p style={{ paddingTop: 8 }}>
            <TextButton onClick={() => void fetchNextPage()}>Older</TextButton>
          </p>
        )}
      </section>
    </div>
  );
}

'use client';

import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { PlainInput } from '../components/PlainInput';
import { PlainSelect } from '../components/PlainSelect';
import { ProblemNote } from '../components/ProblemNote';
import { Hint } from '../components/Hint';
import { TextButton } from '../components/TextButton';
import { useUndo } from '../features/edits/useUndo';
import { call, type ApiProblem } from '../lib/api';
import { moment } from '../lib/format';

interface WrittenPage {
  rows: {
    id: number;
    at: string;
    who: string;
    kind: string;
    many: string;
    words: string;
    undoneBy: number | null;
    values: number;
    standing: number;
  }[];
  total: number;
  people: string[];
  kinds: { kind: string; many: string }[];
}

const atOnce = 30;

/** Everything that people wrote, by whom and of what; each with a way back as long as nothing newer stands upon it. */
export function WrittenList() {
  const [who, setWho] = useState('');
  const [of, setOf] = useState('');
  const [text, setText] = useState('');
  const [told, setTold] = useState('');
  const undo = useUndo();
  const { data, error, fetchNextPage, hasNextPage } = useInfiniteQuery<
    WrittenPage,
    ApiProblem,
    { pages: WrittenPage[] },
    string[],
    number | null
  >({
    queryKey: ['edits', 'all', who, of, text],
    queryFn: ({ pageParam, signal }) =>
      call<WrittenPage>(
        `edits?${new URLSearchParams({ size: String(atOnce), ...(who && { who }), ...(of && { of }), ...(text.trim() && { text: text.trim() }), ...(pageParam !== null && { before: String(pageParam) }) }).toString()}`,
        { signal },
      ),
    initialPageParam: null,
    getNextPageParam: ({ rows }) => (rows.length < atOnce ? undefined : rows.at(-1)?.id),
    placeholderData: keepPreviousData,
    refetchInterval: 10_000,
  });
  const [first] = data?.pages ?? [];
  const rows = data?.pages.flatMap((page) => page.rows) ?? [];
  return (
    <div className="blocks" style={{ gridTemplateColumns: 'minmax(0, 1fr)' }}>
      <section>
        <p className="quiet small">
          What people wrote, newest first. An edit can be taken back as long as nothing newer stands upon it.
        </p>
        <p style={{ padding: '6px 0', display: 'flex', gap: 8, alignItems: 'center' }}>
          <PlainSelect aria-label="Written by" value={who} onChange={(event) => setWho(event.target.value)}>
            <option value="">by anybody</option>
            {first?.people.map((name) => (
              <option key={name} value={name}>
                by {name}
              </option>
            ))}
          </PlainSelect>
          <PlainSelect aria-label="Written of" value={of} onChange={(event) => setOf(event.target.value)}>
            <option value="">of anything</option>
            {first?.kinds.map(({ kind, many }) => (
              <option key={kind} value={kind}>
                of {many}
              </option>
            ))}
          </PlainSelect>
          <PlainInput
            type="search"
            aria-label="Edits that hold"
            placeholder="a name, as it was written"
            className="plainfield"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <span className="quiet" aria-live="polite">
            {first && first.total.toLocaleString('en')}
          </span>
        </p>
        {told && <p role="status">{told}</p>}
        {error && <ProblemNote problem={error} />}
        {data && rows.length === 0 && <p className="quiet">Nothing fits.</p>}
        {rows.length > 0 && (
          <table className="plain" aria-label="What was written">
            <thead>
              <tr>
                <th>When</th>
                <th>Who</th>
                <th>Of</th>
                <th>What</th>
                <th className="right">Values</th>
                <td />
              </tr>
            </thead>
            <tbody>
              {rows.map((edit) => (
                <tr key={edit.id}>
                  <Hint words={edit.at}>
                    <td style={{ whiteSpace: 'nowrap' }}>{moment(edit.at)}</td>
                  </Hint>
                  <td>{edit.who}</td>
                  <td>{edit.many}</td>
                  <td style={{ overflowWrap: 'anywhere' }}>{edit.words}</td>
                  <td className="right">{edit.values.toLocaleString('en')}</td>
                  <td>
                    {edit.undoneBy !== null ? (
                      <span className="quiet">taken back</span>
                    ) : edit.standing === 0 ? (
                      <span className="quiet">written over since</span>
                    ) : (
                      <>
                        <TextButton
                          aria-label={`Undo: ${edit.words}`}
                          onClick={() => void undo(edit.id).then((words) => setTold(`“${edit.words}”: ${words}`))}
                        >
                          Undo
                        </TextButton>
                        {edit.standing < edit.values && (
                          <span className="quiet"> {edit.standing} of them, the others were written over</span>
                        )}
                      </>
                    )}
                  </td>
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

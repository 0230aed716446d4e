'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { call, type ApiProblem } from '../../lib/api';
import { ago } from '../../lib/format';

interface KeptEdit {
  id: number;
  at: string;
  who: string;
  words: string;
  undoneBy: number | null;
}

const shown = 6;

/** What was written last, each with a way back. @param path of the edits @param count how much an edit wrote; one that wrote nothing cannot be taken back */
export function WrittenLast<Edit extends KeptEdit>({
  queryKey,
  path,
  query = '',
  written,
  count,
  countWords,
}: {
  queryKey: string[];
  path: string;
  query?: string;
  written: () => Promise<void>;
  count: (edit: Edit) => number;
  countWords?: (count: number) => string;
}) {
  const { data } = useQuery({ queryKey, queryFn: async () => (await call<{ rows: Edit[] }>(`${path}${query}`)).rows });
  const [told, setTold] = useState('');
  const undo = async ({ id, words }: Edit) => {
    try {
      const { back, stay } = await call<{ back: number; stay: number }>(`${path}/${id}/undo`, {
        method: 'POST',
        body: {},
      });
      setTold(`“${words}”: ${back} taken back${stay > 0 ? `, ${stay} stay, since somebody wrote over them` : ''}.`);
    } catch (error) {
      setTold((error as ApiProblem).words);
    }
    await written();
  };
  if (!data || data.length === 0) return null;
  return (
    <section className="section">
      <h3>Written last</h3>
      {told && (
        <p role="status" className="small">
          {told}
        </p>
      )}
      <table className="plain">
        <tbody>
          {data.slice(0, shown).map((edit) => (
            <tr key={edit.id}>
              <td>{edit.words}</td>
              <td className="quiet">
                {edit.who}, {ago(edit.at)}
              </td>
              {countWords && <td className="quiet">{countWords(count(edit))}</td>}
              <td>
                {edit.undoneBy === null ? (
                  count(edit) > 0 && (
                    <button type="button" className="textlink" onClick={() => void undo(edit)}>
                      Undo
                    </button>
                  )
                ) : (
                  <span className="quiet">taken back</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

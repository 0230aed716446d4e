'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from '../../components/Link';
import { TextButton } from '../../components/TextButton';
import { call } from '../../lib/api';
import { ago } from '../../lib/format';
import { useView } from '../../lib/useView';
import { useUndo } from './useUndo';

interface KeptEdit {
  id: number;
  at: string;
  who: string;
  words: string;
  undoneBy: number | null;
  values: number;
}

const shown = 6;

/** What was written last of a kind, each with a way back. @param counted how much each wrote, in words */
export function WrittenLast({ of, counted }: { of: string; counted?: (values: number) => string }) {
  const { data } = useQuery({
    queryKey: ['edits', of],
    queryFn: async () => (await call<{ rows: KeptEdit[] }>(`edits?of=${of}&size=${shown}`)).rows,
  });
  const undo = useUndo();
  const view = useView();
  const [told, setTold] = useState('');
  if (!data || data.length === 0) return null;
  return (
    <section className="section">
      <h2 className="sub">Written last</h2>
      {told && (
        <p role="status" className="small">
          {told}
        </p>
      )}
      <table className="plain">
        <tbody>
          {data.map((edit) => (
            <tr key={edit.id}>
              <td>{edit.words}</td>
              <td className="quiet">
                {edit.who}, {ago(edit.at)}
              </td>
              {counted && <td className="quiet">{counted(edit.values)}</td>}
              <td>
                {edit.undoneBy !== null ? (
                  <span className="quiet">taken back</span>
                ) : (
                  edit.values > 0 && (
                    <TextButton
                      onClick={() => void undo(edit.id).then((words) => setTold(`“${edit.words}”: ${words}`))}
                    >
                      Undo
                    </TextButton>
                  )
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small">
        <Link href={view.href('/settings/written', { sel: null })}>All that was written</Link>
      </p>
    </section>
  );
}

'use client';

import type { FileTold } from './useImports';
import { Scrolled } from '../../components/Scrolled';

/** What a file would change, the first of many, before it is written. */
export function FileChanges({ told, words, nothing }: { told: FileTold; words: string; nothing: string }) {
  const { columns, changes, notes, added, changed, same, named } = told;
  if (changes.length === 0) return <p role="status">{nothing}</p>;
  const rest = same === null ? `in ${named.toLocaleString('en')} lines` : `${same.toLocaleString('en')} as they are`;
  return (
    <section aria-label="What changes">
      <p role="status">
        {words}, {rest}
        {changes.length < added + changed && `; the first ${changes.length}:`}
      </p>
      <Scrolled label="What would change">
        <table className="plain">
          <thead>
            <tr>
              {columns.map((column) => (
                <th key={column}>{column}</th>
              ))}
              <th>What changes</th>
            </tr>
          </thead>
          <tbody>
            {changes.map(({ cells, isNew, differs }, at) => (
              <tr key={at}>
                {cells.map((cell, nth) => (
                  <td key={columns[nth]}>{cell}</td>
                ))}
                <td>
                  {isNew && differs.length === 0
                    ? 'new'
                    : differs.map(({ field, before, after }) => (
                        <div key={field}>
                          {field}: {before || 'nothing'} → {after || 'nothing'}
                        </div>
                      ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolled>
      {notes.map((note) => (
        <p key={note} className="small quiet">
          {note}
        </p>
      ))}
    </section>
  );
}

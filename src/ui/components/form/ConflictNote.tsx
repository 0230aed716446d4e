'use client';

import Button from '@mui/material/Button';
import type { FieldValues } from 'react-hook-form';
import { fieldDifferences } from '@/core/edits/edit';
import { ago } from '../../lib/format';
import type { SavingForm } from './useSavingForm';
import { Scrolled } from '../Scrolled';

/** A value in words, nothing said as such. */
function wordsOf(value: unknown): string {
  if (value === null || value === undefined || value === '') return 'nothing';
  if (value === true) return 'yes';
  if (value === false) return 'no';
  if (Array.isArray(value)) return value.length === 0 ? 'nothing' : value.map(wordsOf).join(', ');
  return typeof value === 'object' ? Object.values(value).map(wordsOf).join(' ') : String(value as string | number);
}

const shown = 20;

/** What somebody else wrote while one was writing, side by side: one or the other is to be chosen. */
export function ConflictNote<Values extends FieldValues>({
  of: { conflict, keepMine, takeTheirs, isBusy },
  labels = {},
}: {
  of: Pick<SavingForm<Values>, 'conflict' | 'keepMine' | 'takeTheirs' | 'isBusy'>;
  labels?: Record<string, string>;
}) {
  const [first] = conflict?.values ?? [];
  if (!conflict || !first) return null;
  const { called, who, at, now } = first;
  const by = `${who || 'somebody'}${at && `, ${ago(at)}`}`;
  const isOne = conflict.values.length === 1;
  const rows = conflict.values.flatMap((one) =>
    fieldDifferences(one.mine, one.now).map(({ field, before, after }) => ({
      key: `${one.key} ${one.field} ${field}`,
      words: isOne && field !== '' ? (labels[field] ?? field) : one.called,
      mine: wordsOf(before),
      theirs: wordsOf(after),
    })),
  );
  return (
    <section className="notice bad" role="alert" aria-label="Written meanwhile">
      <p>
        {now === null ? (
          <>
            <b>{called}</b> was deleted meanwhile by {by}. Nothing of yours is written.
          </>
        ) : (
          <>
            <b>{isOne ? called : `${conflict.values.length} values`}</b> became another while you were writing, by {by}.
            Nothing of yours is written yet.
          </>
        )}
      </p>
      {now !== null && (
        <Scrolled label="What differs">
          <table className="plain">
            <thead>
              <tr>
                <th>{isOne ? 'Field' : 'Value'}</th>
                <th>As you write it</th>
                <th>As {who || 'somebody'} wrote it</th>
              </tr>
            </thead>
            <tbody>
              {rows.slice(0, shown).map(({ key, words, mine, theirs }) => (
                <tr key={key}>
                  <td>{words}</td>
                  <td>{mine}</td>
                  <td>{theirs}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Scrolled>
      )}
      {rows.length > shown && <p className="small quiet">and {rows.length - shown} more</p>}
      <div className="formacts">
        {now !== null && (
          <Button variant="outlined" disabled={isBusy} onClick={keepMine}>
            Write mine over it
          </Button>
        )}
        {takeTheirs && (
          <Button color="secondary" disabled={isBusy} onClick={takeTheirs}>
            Take what {who || 'somebody'} wrote
          </Button>
        )}
      </div>
    </section>
  );
}

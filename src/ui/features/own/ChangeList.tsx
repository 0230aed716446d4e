'use client';

import { ownValueText, type OwnField } from '@/core/own/ownField';
import { Glyph } from '../../components/Glyph';
import type { EditAnswer } from './editAnswer';
import { Scrolled } from '../../components/Scrolled';

/** What an edit changes, or did. */
export function ChangeList({
  answer: { rows, total, changes, edit },
  fields,
  of,
}: {
  answer: EditAnswer;
  fields: OwnField[];
  of: string;
}) {
  const many = (count: number) => `${count.toLocaleString('en')} ${count === 1 ? 'value' : 'values'}`;
  if (edit !== undefined)
    return (
      <p role="status">
        <Glyph name="up" word="written" /> {many(total)} written.
      </p>
    );
  if (total === 0)
    return (
      <p role="status">
        Nothing would change: {rows.toLocaleString('en')} {of} are so already.
      </p>
    );
  return (
    <section aria-label="What changes">
      <p role="status">
        {many(total)} would change in {rows.toLocaleString('en')} {of}
        {changes.length < total && `; the first ${changes.length}:`}
      </p>
      <Scrolled label="What would change">
        <table className="plain">
          <thead>
            <tr>
              <th>Row</th>
              <th>Field</th>
              <th>Before</th>
              <th>After</th>
            </tr>
          </thead>
          <tbody>
            {changes.map(({ id, row, field, before, after }) => (
              <tr key={`${id} ${field}`}>
                <td>{row}</td>
                <td>{fields.find(({ name }) => name === field)?.label ?? field}</td>
                <td className="quiet">{ownValueText(before) || 'nothing'}</td>
                <td>{ownValueText(after) || 'nothing'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scrolled>
    </section>
  );
}

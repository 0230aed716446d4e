'use client';

import Button from '@mui/material/Button';
import type { FileMistake } from '@/core/values/fileMistake';
import { CsvChoice } from '../imports/CsvChoice';
import { useCsvImport } from '../imports/useCsvImport';
import { Glyph } from '../../components/Glyph';
import { useOutletsWritten } from './useOutlets';

interface ImportAnswer {
  outlets: number;
  added: number;
  changed: number;
  changes: {
    site: string;
    label: string;
    isNew: boolean;
    differs: { field: string; before: string; after: string }[];
  }[];
  passedOver: string[];
  mistakes: FileMistake[];
  edit?: number;
}

const plural = (count: number, word: string) => `${count.toLocaleString('en')} ${word}${count === 1 ? '' : 's'}`;

/** Outlets from the list that whoever pulled the wires keeps: looked at first, every mistake at its line, taken as a whole or not at all. */
export function OutletImport() {
  const written = useOutletsWritten();
  const { file, answer, problem, busy, choose, take } = useCsvImport<ImportAnswer>('outlets/imports', {}, written);
  const right = answer && answer.mistakes.length === 0;
  return (
    <div className="form">
      <p className="quiet">
        The first line names the columns: <b>site</b> and <b>outlet</b>; if you have them also room, panel, position,
        device, port and note. A line for each outlet. An outlet in the file becomes what the file says of it; those
        that are not in it stay.{' '}
        <a href="/api/v1/outlets?format=csv" download>
          Outlets as they are now
        </a>{' '}
        have the same columns.
      </p>
      <CsvChoice
        name="outletsCsv"
        file={file}
        busy={busy}
        problem={problem}
        mistakes={answer?.mistakes ?? []}
        onFile={choose}
      />
      {answer && answer.passedOver.length > 0 && (
        <p className="small quiet">
          Columns that say nothing of an outlet: {answer.passedOver.join(', ')}. They are not taken.
        </p>
      )}
      {right && answer.edit !== undefined && (
        <p role="status">
          <Glyph name="up" word="taken" /> {plural(answer.added, 'new outlet')}, {answer.changed.toLocaleString('en')}{' '}
          changed.
        </p>
      )}
      {right && answer.edit === undefined && answer.changes.length === 0 && (
        <p role="status">
          Nothing would change: {plural(answer.outlets, 'outlet')} {answer.outlets === 1 ? 'is' : 'are'} so already.
        </p>
      )}
      {right && answer.edit === undefined && answer.changes.length > 0 && (
        <section aria-label="What changes">
          <p role="status">
            {plural(answer.added, 'new outlet')}, {answer.changed.toLocaleString('en')} changed,{' '}
            {(answer.outlets - answer.added - answer.changed).toLocaleString('en')} as they are
            {answer.changes.length < answer.added + answer.changed && `; the first ${answer.changes.length}:`}
          </p>
          <div className="previewed">
            <table className="plain">
              <thead>
                <tr>
                  <th>Site</th>
                  <th>Outlet</th>
                  <th>What changes</th>
                </tr>
              </thead>
              <tbody>
                {answer.changes.map(({ site, label, isNew, differs }) => (
                  <tr key={`${site} ${label}`}>
                    <td>{site}</td>
                    <td>{label}</td>
                    <td>
                      {isNew
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
          </div>
        </section>
      )}
      {file && right && answer.edit === undefined && answer.changes.length > 0 && (
        <div>
          <Button variant="contained" disabled={busy} onClick={take}>
            Take {plural(answer.added + answer.changed, 'outlet')}
          </Button>
        </div>
      )}
    </div>
  );
}

'use client';

import Button from '@mui/material/Button';
import type { FileMistake } from '@/core/values/fileMistake';
import { CsvChoice } from '../imports/CsvChoice';
import { useCsvImport } from '../imports/useCsvImport';
import { wholeDay } from '../../lib/format';
import { Glyph } from '../../components/Glyph';
import { useContractsWritten } from './useContracts';

interface ImportAnswer {
  contracts: number;
  added: number;
  changed: number;
  changes: {
    number: string;
    isNew: boolean;
    kind: string;
    until: string | null;
    serials: number;
    differs: { field: string; before: string; after: string }[];
  }[];
  unseen: { count: number; first: string[] };
  passedOver: string[];
  mistakes: FileMistake[];
  edit?: number;
}

const plural = (count: number, word: string) => `${count.toLocaleString('en')} ${word}${count === 1 ? '' : 's'}`;

/** Contracts from the list that whoever buys keeps: looked at first, every mistake at its line, taken as a whole or not at all. */
export function ContractImport() {
  const written = useContractsWritten();
  const { file, answer, problem, busy, choose, take } = useCsvImport<ImportAnswer>('contracts/imports', {}, written);
  const right = answer && answer.mistakes.length === 0;
  return (
    <div className="form">
      <p className="quiet">
        The first line names the columns: <b>number</b>, <b>kind</b> (warranty, contract or licence), <b>until</b> and{' '}
        <b>serial</b>; if you have them also supplier, level, contact, from, parts (yes or no) and note. A line for each
        serial, or several serials in one cell. Days are written like 2026-11-23. A contract in the file becomes what
        the file says of it; those that are not in it stay.
      </p>
      <CsvChoice
        name="contractsCsv"
        file={file}
        busy={busy}
        problem={problem}
        mistakes={answer?.mistakes ?? []}
        onFile={choose}
      />
      {answer && answer.passedOver.length > 0 && (
        <p className="small quiet">
          Columns that say nothing of a contract: {answer.passedOver.join(', ')}. They are not taken.
        </p>
      )}
      {right && answer.edit !== undefined && (
        <p role="status">
          <Glyph name="up" word="taken" /> {plural(answer.added, 'new contract')}, {answer.changed.toLocaleString('en')}{' '}
          changed.
        </p>
      )}
      {right && answer.edit === undefined && answer.changes.length === 0 && (
        <p role="status">
          Nothing would change: {plural(answer.contracts, 'contract')} {answer.contracts === 1 ? 'is' : 'are'} so
          already.
        </p>
      )}
      {right && answer.edit === undefined && answer.changes.length > 0 && (
        <section aria-label="What changes">
          <p role="status">
            {plural(answer.added, 'new contract')}, {answer.changed.toLocaleString('en')} changed,{' '}
            {(answer.contracts - answer.added - answer.changed).toLocaleString('en')} as they are
            {answer.changes.length < answer.added + answer.changed && `; the first ${answer.changes.length}:`}
          </p>
          <div className="previewed">
            <table className="plain">
              <thead>
                <tr>
                  <th>Contract</th>
                  <th>Kind</th>
                  <th>Until</th>
                  <th className="number">Serials</th>
                  <th>What changes</th>
                </tr>
              </thead>
              <tbody>
                {answer.changes.map(({ number, isNew, kind, until, serials, differs }) => (
                  <tr key={number}>
                    <td>{number}</td>
                    <td>{kind}</td>
                    <td>{until ? wholeDay(until) : 'no end'}</td>
                    <td className="number">{serials}</td>
                    <td>
                      {isNew
                        ? 'new'
                        : differs.map(({ field, before, after }) => (
                            <div key={field}>
                              {field}:{' '}
                              {field === 'serials' ? (
                                [after && `+ ${after}`, before && `− ${before}`].filter(Boolean).join(' ')
                              ) : (
                                <>
                                  {before || 'nothing'} → {after || 'nothing'}
                                </>
                              )}
                            </div>
                          ))}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {answer.unseen.count > 0 && (
            <p className="small quiet">
              {plural(answer.unseen.count, 'serial')} no survey has seen: {answer.unseen.first.join(', ')}
              {answer.unseen.count > answer.unseen.first.length && ' …'}. On a shelf, perhaps, or mistyped.
            </p>
          )}
        </section>
      )}
      {file && right && answer.edit === undefined && answer.changes.length > 0 && (
        <div>
          <Button variant="contained" disabled={busy} onClick={take}>
            Take {plural(answer.added + answer.changed, 'contract')}
          </Button>
        </div>
      )}
    </div>
  );
}

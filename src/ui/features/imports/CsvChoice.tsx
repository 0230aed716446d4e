'use client';

import type { FileMistake } from '@/core/values/fileMistake';
import type { ApiProblem } from '../../lib/api';
import { FileButton } from '../../components/FileButton';
import { Scrolled } from '../../components/Scrolled';

/** The file that is chosen, why it could not be read, and its mistakes, each at its line. */
export function CsvChoice({
  name,
  file,
  busy,
  problem,
  mistakes,
  onFile,
}: {
  name: string;
  file: { name: string } | null;
  busy: boolean;
  problem: ApiProblem | null;
  mistakes: FileMistake[];
  onFile: (file: File) => void;
}) {
  return (
    <>
      <div>
        <FileButton
          words={file ? 'Choose another file' : 'Choose a file'}
          name={name}
          accept=".csv,.tsv,.txt,.json,.yaml,.yml,text/csv,application/json"
          disabled={busy}
          onFile={onFile}
        />{' '}
        {file && <span className="quiet">{file.name}</span>}
      </div>
      {problem && (
        <p role="alert" className="bad">
          {problem.errors.length > 0
            ? problem.errors.map(({ path, message }) => `${path}: ${message}`).join('. ')
            : problem.detail}
        </p>
      )}
      {mistakes.length > 0 && (
        <section aria-label="Mistakes in the file">
          <p role="alert" className="bad">
            {mistakes.length === 1 ? 'One mistake' : `${mistakes.length} mistakes`}: nothing can be taken until the file
            is right.
          </p>
          <Scrolled label="Mistakes in the file">
            <table className="plain">
              <thead>
                <tr>
                  <th>Line</th>
                  <th>Column</th>
                  <th>What is wrong</th>
                </tr>
              </thead>
              <tbody>
                {mistakes.map(({ line, column, message }, at) => (
                  <tr key={at}>
                    <td>{line}</td>
                    <td>{column}</td>
                    <td>{message}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Scrolled>
        </section>
      )}
    </>
  );
}

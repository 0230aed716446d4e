'use client';

import Button from '@mui/material/Button';
import { useState } from 'react';
import type { OwnedThing } from '@/core/own/ownField';
import { call, type ApiProblem } from '../api';
import { FileButton } from '../FileButton';
import { useOwnFields } from '../ownFields';
import { ChangeList } from './ChangeList';
import { useOwnWritten, type EditAnswer } from './useOwnEdits';

interface ImportAnswer extends EditAnswer {
  key: string;
  mistakes: { line: number; column: string; message: string }[];
}

const keyWords: Record<OwnedThing, string> = { devices: 'name, serial or address', ports: 'port (as “sgh-core-1 U1”)', endpoints: 'mac' };

/** Own fields from a table that somebody keeps elsewhere: looked at first, every mistake at its line, taken as a whole or not at all. */
export function ImportForm({ thing }: { thing: OwnedThing }) {
  const fields = useOwnFields().filter((field) => field.thing === thing);
  const written = useOwnWritten();
  const [file, setFile] = useState<{ name: string; csv: string } | null>(null);
  const [answer, setAnswer] = useState<ImportAnswer | null>(null);
  const [problem, setProblem] = useState<ApiProblem | null>(null);
  const [busy, setBusy] = useState(false);
  const send = async (given: { name: string; csv: string }, preview: boolean) => {
    setBusy(true);
    setProblem(null);
    try {
      setAnswer(await call<ImportAnswer>('edits/imports', { method: 'POST', body: { thing, ...given, preview } }));
      if (!preview) await written();
    } catch (error) {
      setAnswer(null);
      setProblem(error as ApiProblem);
    }
    setBusy(false);
  };
  const choose = async (chosen: File) => {
    const given = { name: chosen.name, csv: await chosen.text() };
    setFile(given);
    await send(given, true);
  };
  return (
    <div className="form">
      <p className="quiet">The first line names the columns: one that says which row is meant ({keyWords[thing]}), and any of {fields.map(({ label }) => label).join(', ')}. An empty cell empties the field. Nothing is written before you have seen what changes.</p>
      <div><FileButton words={file ? 'Choose another file' : 'Choose a file'} name="csv" accept=".csv,.tsv,.txt,text/csv" disabled={busy} onFile={(chosen) => void choose(chosen)} /> {file && <span className="quiet">{file.name}</span>}</div>
      {problem && <p role="alert" className="bad">{problem.errors.length > 0 ? problem.errors.map(({ path, message }) => `${path}: ${message}`).join('. ') : problem.detail}</p>}
      {answer && answer.mistakes.length > 0 && (
        <section aria-label="Mistakes in the file">
          <p role="alert" className="bad">{answer.mistakes.length === 1 ? 'One mistake' : `${answer.mistakes.length} mistakes`}: nothing can be taken until the file is right.</p>
          <div className="previewed">
            <table className="plain"><thead><tr><th>Line</th><th>Column</th><th>What is wrong</th></tr></thead><tbody>{answer.mistakes.map(({ line, column, message }, at) => <tr key={at}><td>{line}</td><td>{column}</td><td>{message}</td></tr>)}</tbody></table>
          </div>
        </section>
      )}
      {answer && answer.mistakes.length === 0 && <ChangeList answer={answer} fields={fields} of={answer.rows === 1 ? 'line' : 'lines'} />}
      {file && answer && answer.mistakes.length === 0 && answer.edit === undefined && answer.total > 0 && <div><Button variant="contained" disabled={busy} onClick={() => void send(file, false)}>Write {answer.total.toLocaleString('en')} {answer.total === 1 ? 'value' : 'values'}</Button></div>}
    </div>
  );
}

'use client';

import Button from '@mui/material/Button';
import type { FileMistake } from '@/core/values/fileMistake';
import type { OwnedThing } from '@/core/own/ownField';
import { CsvChoice } from '../imports/CsvChoice';
import { useCsvImport } from '../imports/useCsvImport';
import { useOwnFields } from '../../lib/ownFields';
import { ChangeList } from './ChangeList';
import { useOwnWritten, type EditAnswer } from './useOwnEdits';

interface ImportAnswer extends EditAnswer {
  key: string;
  mistakes: FileMistake[];
}

const keyWords: Record<OwnedThing, string> = {
  devices: 'name, serial or address',
  ports: 'port (as “sgh-core-1 U1”)',
  endpoints: 'mac',
};

/** Own fields from a table that somebody keeps elsewhere: looked at first, every mistake at its line, taken as a whole or not at all. */
export function ImportForm({ thing }: { thing: OwnedThing }) {
  const fields = useOwnFields().filter((field) => field.thing === thing);
  const written = useOwnWritten();
  const { file, answer, problem, busy, choose, take } = useCsvImport<ImportAnswer>('edits/imports', { thing }, written);
  return (
    <div className="form">
      <p className="quiet">
        The first line names the columns: one that says which row is meant ({keyWords[thing]}), and any of{' '}
        {fields.map(({ label }) => label).join(', ')}. An empty cell empties the field. Nothing is written before you
        have seen what changes.
      </p>
      <CsvChoice
        name="csv"
        file={file}
        busy={busy}
        problem={problem}
        mistakes={answer?.mistakes ?? []}
        onFile={choose}
      />
      {answer && answer.mistakes.length === 0 && (
        <ChangeList answer={answer} fields={fields} of={answer.rows === 1 ? 'line' : 'lines'} />
      )}
      {file && answer && answer.mistakes.length === 0 && answer.edit === undefined && answer.total > 0 && (
        <div>
          <Button variant="contained" disabled={busy} onClick={take}>
            Write {answer.total.toLocaleString('en')} {answer.total === 1 ? 'value' : 'values'}
          </Button>
        </div>
      )}
    </div>
  );
}

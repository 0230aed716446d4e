'use client';

import Button from '@mui/material/Button';
import { Glyph } from '../../components/Glyph';
import { CsvChoice } from './CsvChoice';
import { FileChanges } from './FileChanges';
import { useCsvImport } from './useCsvImport';
import { useImports, type FileTold, type ImportDomain } from './useImports';

const plural = (count: number, one: string, many: string) =>
  `${count.toLocaleString('en')} ${count === 1 ? one : many}`;

/** A list that somebody keeps elsewhere: looked at first, every mistake at its line, taken as a whole or not at all. */
export function CsvImport({ name }: { name: string }) {
  const { data, error } = useImports();
  const domain = data?.find((one) => one.name === name);
  if (error) return <p className="quiet">{error.words}</p>;
  return domain ? <DomainImport key={name} domain={domain} /> : null;
}

function DomainImport({ domain }: { domain: ImportDomain }) {
  const { file, answer, problem, busy, choose, look, take } = useCsvImport(domain.name);
  const isRight = answer !== null && answer.mistakes.length === 0;
  return (
    <div className="form">
      <AboutFile domain={domain} />
      <CsvChoice
        name={`${domain.name}Csv`}
        file={file}
        busy={busy}
        problem={problem}
        mistakes={answer?.mistakes ?? []}
        onFile={choose}
      />
      {problem?.conflict && (
        <div>
          <Button variant="outlined" disabled={busy} onClick={look}>
            Look at the file again
          </Button>
        </div>
      )}
      {answer && answer.passedOver.length > 0 && (
        <p className="small quiet">
          Columns that say nothing of {domain.many}: {answer.passedOver.join(', ')}. They are not taken.
        </p>
      )}
      {isRight && answer.edit !== undefined && (
        <p role="status">
          <Glyph name="up" word="taken" /> {foundWords(domain, answer)}.
        </p>
      )}
      {isRight && answer.edit === undefined && (
        <FileChanges told={answer} words={foundWords(domain, answer)} nothing={nothingWords(domain, answer)} />
      )}
      {file && isRight && answer.edit === undefined && answer.changes.length > 0 && (
        <div>
          <Button variant="contained" disabled={busy} onClick={take}>
            Take {plural(answer.added + answer.changed, domain.one, domain.many)}
          </Button>
        </div>
      )}
    </div>
  );
}

/** `2 new contracts, 1 changed`. */
const foundWords = ({ one, many }: ImportDomain, { added, changed }: FileTold): string =>
  `${plural(added, `new ${one}`, `new ${many}`)}, ${changed.toLocaleString('en')} changed`;

const nothingWords = ({ one, many }: ImportDomain, { named, same }: FileTold): string =>
  same === null
    ? `Nothing would change: ${plural(named, 'line says', 'lines say')} what is there already.`
    : `Nothing would change: ${plural(named, `${one} is`, `${many} are`)} so already.`;

/** How the file must look. */
function AboutFile({ domain: { columns, about, now, many, files } }: { domain: ImportDomain }) {
  return (
    <>
      <p className="quiet">
        Files: {files}. {columns.length > 0 && 'The first line names the columns. '}
        {about} Nothing is written before you have seen what changes.
        {now && (
          <>
            {' '}
            <a href={now} download>
              How {many} are now
            </a>{' '}
            as a file.
          </>
        )}
      </p>
      {columns.length > 0 && (
        <table className="plain" aria-label="Columns of the file">
          <thead>
            <tr>
              <th>Column</th>
              <th>Needed</th>
              <th>What stands in it</th>
            </tr>
          </thead>
          <tbody>
            {columns.map(({ name, isNeeded, about: what }) => (
              <tr key={name}>
                <td>{name}</td>
                <td>{isNeeded ? 'yes' : <span className="quiet">no</span>}</td>
                <td className="quiet">{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

'use client';

import { useQuery } from '@tanstack/react-query';
import { Fragment, type ReactNode } from 'react';
import { thingNames, things, type ThingName } from '@/core/things/things';
import type { ThingField } from '@/core/things/thing';
import { sealedOf, useSurveys } from '../lib/useSurveys';
import { useView } from '../lib/useView';
import { useFirstRows } from './useFirstRows';
import { call, thingPath, type ApiProblem, type ThingPage, type ThingRow } from '../lib/api';
import { CellText } from '../components/table/CellText';
import { moment, namedText } from '../lib/format';
import { useFieldsOf } from '../lib/ownFields';
import { ProblemNote } from '../components/ProblemNote';
import { useMarkedRows } from '../components/table/markedRows';
import { PrintedBy } from '../components/PrintedBy';
import { TextButton } from '../components/TextButton';

const rowsAtOnce = 1000;
/** More rows than this are a file, not paper. */
const mostRows = 5000;
const changeMarks = { added: '+', gone: '−', changed: '~', replaced: '~', silent: '~' } as const;

/** A table on paper: what the screen shows, all of its rows, marked ones marked, and under it what it is and as of when. */
export function PrintedTable({ thing, by }: { thing: string; by: string }) {
  if (!thingNames.includes(thing as ThingName))
    return (
      <main className="paper">
        <h1>There are no {thing} to print</h1>
        <p>A table is printed from the table itself: Export › Print…</p>
      </main>
    );
  return <PrintedThing thing={thing as ThingName} by={by} />;
}

function PrintedThing({ thing, by }: { thing: ThingName; by: string }) {
  const view = useView();
  const fields = useFieldsOf()(thing);
  const named = (names: string[]) => names.flatMap((name) => fields.find((field) => field.name === name) ?? []);
  const chosen = named((view.columns ?? '').split(','));
  const columns = chosen.length > 0 ? chosen : fields.filter(({ shown }) => shown);
  const groups = named((view.group ?? '').split(','));
  const sort = [...groups.map(({ name }) => name), view.sort].filter(Boolean).join(',');
  const request = { survey: view.survey, against: view.against, where: view.where, sort, first: useFirstRows() };
  const { data, error } = useQuery<{ rows: ThingRow[]; total: number }, ApiProblem>({
    queryKey: ['print', thing, request],
    queryFn: async ({ signal }) => {
      const rows: ThingRow[] = [];
      for (let page = 1; ; page++) {
        const next = await call<ThingPage>(thingPath(thing, { ...request, page, size: rowsAtOnce }), { signal });
        rows.push(...next.rows);
        if (next.rows.length < rowsAtOnce || rows.length >= mostRows)
          return { rows: rows.slice(0, mostRows), total: next.total };
      }
    },
  });
  const sealed = sealedOf(useSurveys().data);
  const momentOf = (id: string | null) =>
    moment((id === null ? sealed.at(-1) : sealed.find((survey) => String(survey.id) === id))?.startedAt ?? '');
  const { marked } = useMarkedRows(thing);
  if (error)
    return (
      <main className="paper">
        <ProblemNote problem={error} />
      </main>
    );
  if (!data)
    return (
      <main className="paper">
        <p>reading the rows…</p>
      </main>
    );
  return (
    <main className="paper">
      <p className="screen-only">
        <TextButton onClick={() => window.print()}>Print</TextButton>{' '}
        <span className="quiet">This page is what the paper shows. Rows you marked with M are marked here too.</span>
      </p>
      <h1>
        {things[thing].title} <span className="count">{data.total}</span>
      </h1>
      <p className="about">
        As of {momentOf(view.survey)}
        {view.against && `, against ${momentOf(view.against)}`}
        {view.where && (
          <>
            , where <span className="mono">{view.where}</span>
          </>
        )}
        . <PrintedBy by={by} />
      </p>
      <table>
        <thead>
          <tr>
            <td />
            {columns.map(({ name, label }) => (
              <th key={name} scope="col">
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{printedRows(data.rows, groups, columns, marked)}</tbody>
      </table>
      {data.total > data.rows.length && (
        <p>
          The first {data.rows.length.toLocaleString('en')} of {data.total.toLocaleString('en')} rows: narrow the table,
          or export it as a file.
        </p>
      )}
      {data.rows.length === 0 && <p>No rows fit.</p>}
    </main>
  );
}

function printedRows(
  rows: ThingRow[],
  groups: ThingField[],
  columns: ThingField[],
  marked: ReadonlySet<string>,
): ReactNode[] {
  let before: ThingRow | null = null;
  return rows.map((row) => {
    const first =
      before === null
        ? 0
        : groups.findIndex(
            ({ name }) => String(row[name] ?? '').toLowerCase() !== String(before?.[name] ?? '').toLowerCase(),
          );
    before = row;
    return (
      <Fragment key={`${row.id} ${row.change ?? ''}`}>
        {first >= 0 &&
          groups.slice(first).map((field, at) => (
            <tr key={field.name} className={`heading level${first + at + 1}`}>
              <th colSpan={columns.length + 1} scope="rowgroup">
                {namedText(String(row[field.name] ?? ''), field)}
              </th>
            </tr>
          ))}
        <tr className={`${row.change ?? ''} ${marked.has(row.id) ? 'marked' : ''}`}>
          <td>{row.change ? changeMarks[row.change] : marked.has(row.id) ? '▪' : ''}</td>
          {columns.map((field) => (
            <td key={field.name}>
              <CellText row={row} field={field} />
            </td>
          ))}
        </tr>
      </Fragment>
    );
  });
}

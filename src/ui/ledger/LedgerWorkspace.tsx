'use client';

import { Link } from '@/ui/components/Link';
import { useView } from '../lib/useView';
import { chosenTerms, withChosen } from '@/core/filter/terms';
import { BarChart } from '../components/pictures/BarChart';
import { DataTable } from '../components/table/DataTable';
import { useFirstPage, useThingPage } from '../components/table/thingPages';
import { FilterField } from '../components/filter/FilterField';
import { coverGlyph } from '../features/contracts/coverGlyph';
import { moment, wholeDay } from '../lib/format';
import { Glyph } from '../components/Glyph';
import { Panel } from '../components/Panel';
import { useSort } from '../components/table/useSort';
import { useTableLayout } from '../components/table/layout';
import { ViewMenu } from '../features/views/ViewMenu';
import { ColumnChooser } from '../components/table/tools/ColumnChooser';
import { ExportMenu } from '../components/table/tools/ExportMenu';

const pictures = ['state', 'model', 'site'];

/** Every serial ever seen, where, and since when. */
export function LedgerWorkspace() {
  const view = useView();
  const layout = useTableLayout('ledger', view.columns, () => view.set({ columns: null }));
  const { columns } = layout;
  const { sort, onSort } = useSort('ledger');
  const request = { survey: view.survey, against: view.against, where: view.where };
  const summary = useFirstPage('ledger', request, sort, pictures);
  const serial = /^serial:(.*)$/.exec(view.sel ?? '')?.[1] ?? null;
  const shares = summary.data?.shares ?? {};
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Ledger</h1>
          <span className="quiet" aria-live="polite">
            {summary.data && `${summary.data.total} ${summary.data.total === 1 ? 'serial' : 'serials'}`}
          </span>
          <FilterField
            about={{ thing: 'ledger', survey: view.survey, against: view.against }}
            value={view.where}
            onChange={(where) => view.set({ where })}
            problem={summary.error}
            hint="a scrap of a serial; state=gone"
          />
          <Link href={view.href('/estate', { of: 'contracts', where: null, sel: null })}>Contracts</Link>
          <ColumnChooser thing="ledger" layout={layout} />
          <ViewMenu path="/ledger" columns={layout.chosen} />
          <ExportMenu thing="ledger" request={{ ...request, sort }} columns={columns.map(({ name }) => name)} />
        </div>
        <div className="pictures">
          {pictures.map((field) => (
            <BarChart
              key={field}
              title={`by ${field}`}
              bars={(shares[field] ?? []).map(({ value, count }) => ({ value, count }))}
              chosen={chosenTerms(view.where, field)}
              onChoose={(value, more) => view.set({ where: withChosen(view.where, field, value, more) })}
            />
          ))}
        </div>
        <DataTable
          thing="ledger"
          label="Ledger"
          request={request}
          count={pictures}
          columns={columns}
          layout={layout}
          sort={sort}
          onSort={onSort}
          selected={serial}
          onSelect={(row) => view.set({ sel: `serial:${row.id}` })}
          glyph={(row) => <Glyph name={row.state === 'gone' ? 'down' : 'up'} word={String(row.state)} />}
          empty={
            <>
              <h2>{view.where ? 'No serial fits this filter' : 'No serial has been seen yet'}</h2>
              <p className="quiet">Serials come from the module tables of surveyed devices.</p>
            </>
          }
        />
      </main>
      {serial && (
        <Panel label="Serial">
          <SerialDossier serial={serial} />
        </Panel>
      )}
    </div>
  );
}

function SerialDossier({ serial }: { serial: string }) {
  const view = useView();
  const { data } = useThingPage('ledger', { survey: view.survey, where: `serial="${serial}"`, size: 1 });
  const row = data?.rows[0];
  if (!row) return <p className="quiet">{data ? 'This serial was not seen up to the survey viewed.' : 'reading…'}</p>;
  const history = row.history as { device: string; place: string; from: string; until: string | null }[];
  return (
    <>
      <div className="small quiet">{String(row.what)}</div>
      <h2 className="mono" style={{ fontSize: 16 }}>
        {serial}
      </h2>
      <dl className="facts">
        <dt>State</dt>
        <dd>
          <span className="state">
            <Glyph name={row.state === 'gone' ? 'down' : 'up'} />
            {String(row.state)}
          </span>
        </dd>
        <dt>Model</dt>
        <dd>{String(row.model) || '–'}</dd>
        <dt>{row.state === 'gone' ? 'Was last in' : 'Is in'}</dt>
        <dd>
          <Link href={view.href('/estate', { sel: `device:${String(row.deviceId)}` })}>{String(row.device)}</Link>
        </dd>
        <dt>Place</dt>
        <dd>{String(row.place)}</dd>
        <dt>Cover</dt>
        <dd>
          <span className="state">
            <Glyph name={coverGlyph(row.cover)} />
            {String(row.cover)}
            {row.coverUntil ? ` ${row.cover === 'ended' ? 'on' : 'until'} ${wholeDay(String(row.coverUntil))}` : ''}
          </span>
          {(row.coveredBy as string[]).map((number) => (
            <span key={number}>
              {' '}
              <Link href={view.href('/estate', { of: 'contracts', where: `number="${number}"`, sel: null })}>
                {number}
              </Link>
            </span>
          ))}
        </dd>
      </dl>
      <section className="section">
        <h3>Its life</h3>
        <ul className="small">
          {history.map((span, at) => (
            <li key={at} style={{ padding: '3px 0' }}>
              <b style={{ fontWeight: 600 }}>{span.device}</b> {span.place}
              <br />
              <span className="quiet">
                from {moment(span.from)}
                {span.until ? ` until ${moment(span.until)}` : ', still there'}
              </span>
            </li>
          ))}
        </ul>
      </section>
    </>
  );
}

'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { term } from '@/core/things/near';
import { DataTable } from '../../components/table/DataTable';
import { FilterField } from '../../components/filter/FilterField';
import { useTableLayout } from '../../components/table/layout';
import { useFirstPage } from '../../components/table/thingPages';
import { ColumnChooser } from '../../components/table/tools/ColumnChooser';
import { ExportMenu } from '../../components/table/tools/ExportMenu';
import { useSort } from '../../components/table/useSort';
import { Panel } from '../../components/Panel';
import { PlainSelect } from '../../components/PlainSelect';
import { TextButton } from '../../components/TextButton';
import { AnyDossier } from '../../features/dossier/AnyDossier';
import { call, type ApiProblem } from '../../lib/api';
import { useView } from '../../lib/useView';
import { DependencyViews } from '../DependencyViews';
import { TalkMatrixDrawing, type Matrix, type MatrixBy } from './TalkMatrixDrawing';

const groups: { by: MatrixBy; words: string }[] = [
  { by: 'site', words: 'site' },
  { by: 'application', words: 'application' },
  { by: 'circle', words: 'circle' },
  { by: 'network', words: 'network' },
  { by: 'kind', words: 'kind' },
  { by: 'group', words: 'group' },
  { by: 'host', words: 'host' },
];

/** Questions that are asked of talk again and again, each a filter. */
const asked: { words: string; where: string }[] = [
  { words: 'rare talk', where: 'activeHours<=3 activeHours>0' },
  { words: 'without a known process', where: 'serverProcess=""' },
  { words: 'not heard for 20 days', where: 'lastSeen>20d' },
];

/** By which fields of conversations a cell is a filter. */
const fieldsBy: Partial<Record<MatrixBy, [client: string, server: string]>> = {
  site: ['clientSite', 'serverSite'],
  host: ['clientName', 'serverName'],
  network: ['clientAddress', 'serverAddress'],
};

const notKnown = 'not known';
const filterOf = (by: MatrixBy, from: string, to: string): string | null => {
  const fields = fieldsBy[by];
  if (!fields || from === 'all others' || to === 'all others') return null;
  return fields
    .map((field, at) => {
      const value = at === 0 ? from : to;
      return by === 'network' ? `${field}:${value}` : term(field, value === notKnown ? '' : value);
    })
    .join(' ');
};

/** Who talks to whom: a matrix of it, and each conversation below. */
export function TalkView() {
  const view = useView();
  const by = groups.find((one) => one.by === view.over)?.by ?? 'site';
  const layout = useTableLayout('conversations', view.columns, () => view.set({ columns: null }));
  const { columns } = layout;
  const { sort, onSort } = useSort('conversations');
  const request = { survey: view.survey, against: view.against, where: view.where };
  const summary = useFirstPage('conversations', request, sort, []);
  const { data } = useQuery<Matrix, ApiProblem>({
    queryKey: ['talk-matrix', by, view.where, view.survey, view.past],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call(
        `talk-matrix?${new URLSearchParams({ by, ...(view.where && { where: view.where }), ...(view.survey && { survey: view.survey }), ...(view.past && { days: view.past }) }).toString()}`,
        { signal },
      ),
  });
  const conversation = /^conversation:(.*)$/s.exec(view.sel ?? '')?.[1] ?? null;
  return (
    <div className="area">
      <main className="work">
        <div className="titleline">
          <h1>Talk</h1>
          <span className="quiet" aria-live="polite">
            {summary.data && `${summary.data.total} ${summary.data.total === 1 ? 'conversation' : 'conversations'}`}
          </span>
          <FilterField
            about={{ thing: 'conversations', survey: view.survey, against: view.against }}
            value={view.where}
            onChange={(where) => view.set({ where })}
            problem={summary.error}
            hint="a host, process or port; port=443"
          />
          <ColumnChooser thing="conversations" layout={layout} />
          <ExportMenu thing="conversations" request={{ ...request, sort }} columns={columns.map(({ name }) => name)} />
        </div>
        <DependencyViews current="talk" />
        <div className="talkhead">
          <div className="talkasked">
            <span>
              by{' '}
              <PlainSelect
                aria-label="Put together by"
                value={by}
                onChange={({ target }) => view.set({ over: target.value })}
              >
                {groups.map((one) => (
                  <option key={one.by} value={one.by}>
                    {one.words}
                  </option>
                ))}
              </PlainSelect>{' '}
              heard{' '}
              <PlainSelect
                aria-label="Within which time"
                value={view.past ?? ''}
                onChange={({ target }) => view.set({ past: target.value })}
              >
                <option value="">ever</option>
                <option value="1">within a day</option>
                <option value="7">within 7 days</option>
                <option value="30">within 30 days</option>
              </PlainSelect>
            </span>
            {asked.map(({ words, where }) => (
              <TextButton key={words} aria-pressed={view.where === where} onClick={() => view.set({ where })}>
                {words}
              </TextButton>
            ))}
            {view.where && <TextButton onClick={() => view.set({ where: null })}>all talk</TextButton>}
          </div>
          {data && data.names.length > 0 && (
            <TalkMatrixDrawing
              matrix={data}
              filterOf={(from, to) => filterOf(by, from, to)}
              onFilter={(where) => view.set({ where })}
            />
          )}
        </div>
        <DataTable
          thing="conversations"
          label="Conversations"
          request={request}
          count={[]}
          columns={columns}
          layout={layout}
          sort={sort}
          onSort={onSort}
          selected={conversation}
          onSelect={(row) => view.set({ sel: `conversation:${row.id}` })}
          empty={
            <>
              <h2>{view.where ? 'No conversation fits this filter' : 'No talk is known yet'}</h2>
              <p className="quiet">
                Talk comes from the connection tables of servers, from captures, exporters of flows, and captures at
                hosts.
              </p>
            </>
          }
        />
      </main>
      {conversation && (
        <Panel label="Conversation">
          <AnyDossier thing="conversations" id={conversation} />
        </Panel>
      )}
    </div>
  );
}

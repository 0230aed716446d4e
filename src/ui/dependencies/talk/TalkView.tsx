'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
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
import { DayStrip, type TalkDay } from './DayStrip';
import { dayBefore, daysMeant, heardOn, spanOf } from './heardDays';
import { TalkFlowDrawing } from './TalkFlowDrawing';
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

/** Questions that are asked of talk again and again, each a filter. @param dayBefore the day so many days before the last one on which anything was heard */
const questions = (dayBefore: (days: number) => string): { words: string; where: string }[] => [
  // what was heard first just now is new, not rare
  { words: 'rare talk', where: `activeHours<=3 activeHours>0 samples<=3 firstSeen<${dayBefore(1)}` },
  { words: 'without a known process', where: 'serverProcess=""' },
  { words: 'not heard for 20 days', where: `lastSeen<${dayBefore(20)}` },
];

/** What one group says to another as a filter; null where it is too many to be one. */
const filterOf = ({ terms }: Matrix, from: string, to: string): string | null => {
  const [client, server] = [terms[from]?.client, terms[to]?.server];
  return client && server ? `${client} ${server}` : null;
};

/** Who talks to whom: a matrix of it, and each conversation below. */
export function TalkView() {
  const view = useView();
  const by = groups.find((one) => one.by === view.over)?.by ?? 'site';
  const layout = useTableLayout('conversations', view.columns, () => view.set({ columns: null }));
  const { columns } = layout;
  const { sort, onSort } = useSort('conversations');
  const { data: days } = useTalkDays(view.survey, view.where);
  const chosen = daysMeant(view.past, days?.map(({ day }) => day) ?? []);
  const where = heardOn(view.where, chosen);
  const asked = questions((count) => dayBefore(days?.at(-1)?.day, count));
  const request = { survey: view.survey, against: view.against, where };
  const summary = useFirstPage('conversations', request, sort, []);
  const { data } = useQuery<Matrix, ApiProblem>({
    queryKey: ['talk-matrix', by, where, view.survey],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      call(
        `talk-matrix?${new URLSearchParams({ by, ...(where && { where }), ...(view.survey && { survey: view.survey }) }).toString()}`,
        { signal },
      ),
  });
  const isFlows = view.pictures === 'flows';
  const Drawing = isFlows ? TalkFlowDrawing : TalkMatrixDrawing;
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
                <option value="1">on the last day</option>
                <option value="7">in the last 7 days</option>
                <option value="30">in the last 30 days</option>
                {view.past && !['1', '7', '30'].includes(view.past) && (
                  <option value={view.past}>on the days chosen below</option>
                )}
              </PlainSelect>{' '}
              as{' '}
              <PlainSelect
                aria-label="Drawn as"
                value={isFlows ? 'flows' : ''}
                onChange={({ target }) => view.set({ pictures: target.value })}
              >
                <option value="">a matrix</option>
                <option value="flows">flows</option>
              </PlainSelect>
            </span>
            {asked.map(({ words, where }) => (
              <TextButton key={words} aria-pressed={view.where === where} onClick={() => view.set({ where })}>
                {words}
              </TextButton>
            ))}
            {(view.where || view.past) && (
              <TextButton onClick={() => view.set({ where: null, past: null })}>all talk</TextButton>
            )}
          </div>
          <div className="talkpictures">
            {data && data.names.length > 0 && (
              <Drawing
                matrix={data}
                filterOf={(from, to) => filterOf(data, from, to)}
                onFilter={(narrow) => view.set({ where: view.where ? `(${view.where}) ${narrow}` : narrow })}
              />
            )}
            {days && (
              <DayStrip
                days={days}
                chosen={chosen}
                onChoose={(from, to) => view.set({ past: from && to ? spanOf(from, to) : null })}
              />
            )}
          </div>
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

/** How many conversations were heard on each of the last days. */
const useTalkDays = (survey: string | null, where: string) =>
  useQuery<TalkDay[], ApiProblem>({
    queryKey: ['talk-days', where, survey],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const query = new URLSearchParams({ ...(where && { where }), ...(survey && { survey }) });
      return (await call<{ rows: TalkDay[] }>(`talk-days?${query.toString()}`, { signal })).rows;
    },
  });

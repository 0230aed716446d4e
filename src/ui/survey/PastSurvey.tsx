'use client';

import { DataTable } from '../components/table/DataTable';
import { FilterField } from '../components/filter/FilterField';
import { Glyph, outcomeGlyph } from '../components/Glyph';
import { useSort } from '../components/table/useSort';
import { useTableLayout } from '../components/table/layout';
import { ExportMenu } from '../components/table/tools/ExportMenu';
import { TextButton } from '../components/TextButton';
import { moment } from '../lib/format';
import type { SurveyRow } from '../lib/useSurveys';
import { useView } from '../lib/useView';

/** Every address of a sealed survey with its outcome, reason and remedy. */
export function PastSurvey({ survey, onClose }: { survey: SurveyRow; onClose: () => void }) {
  const view = useView();
  const layout = useTableLayout('visits');
  const { columns } = layout;
  const { sort, onSort } = useSort('visits');
  const request = { survey: String(survey.id), where: view.where };
  return (
    <>
      <div className="titleline">
        <h1>Survey {survey.id}</h1>
        <span className="quiet" style={{ whiteSpace: 'nowrap' }}>
          {moment(survey.startedAt)}, {survey.scopeName}
          {survey.state === 'cancelled' && ', cut short'}
        </span>
        <FilterField
          about={{ thing: 'visits', survey: view.past }}
          value={view.where}
          onChange={(where) => view.set({ where })}
          hint="outcome=silent; an address"
        />
        <ExportMenu thing="visits" request={{ ...request, sort }} columns={columns.map(({ name }) => name)} />
        <TextButton onClick={onClose}>All surveys</TextButton>
      </div>
      {survey.summary && (
        <p className="quiet small" style={{ padding: '0 16px 10px' }}>
          {Object.entries(survey.summary.phases)
            .map(([phase, seconds]) => `${phase} ${seconds.toFixed(2)} s`)
            .join(' · ')}{' '}
          (added up over all devices) · {survey.summary.seconds.toFixed(2)} s by the clock
          {survey.summary.askedAgain &&
            ` · switches were asked once more for ${survey.summary.askedAgain.machines} machines they did not list, and then told of ${survey.summary.askedAgain.heard}`}
        </p>
      )}
      <DataTable
        thing="visits"
        label={`Addresses of survey ${survey.id}`}
        request={request}
        columns={columns}
        layout={layout}
        sort={sort}
        onSort={onSort}
        selected={null}
        onSelect={() => undefined}
        glyph={(row) => <Glyph name={outcomeGlyph(row.outcome)} word={String(row.outcome)} />}
        empty={
          <>
            <h2>No address fits this filter</h2>
            <p className="quiet">
              <TextButton onClick={() => view.set({ where: null })}>Empty the filter</TextButton>
            </p>
          </>
        }
      />
    </>
  );
}

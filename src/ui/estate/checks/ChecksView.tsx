'use client';

import { useMemo, useState, type KeyboardEvent } from 'react';
import { severities } from '@/core/checks/check';
import { useSurveys, sealedOf } from '../../lib/useSurveys';
import { useView } from '../../lib/useView';
import { moment } from '../../lib/format';
import { Glyph } from '../../components/Glyph';
import { Panel } from '../../components/Panel';
import { useMayEdit } from '../../lib/person';
import { ProblemNote } from '../../components/ProblemNote';
import { Subviews } from '../Subviews';
import { CheckDossier } from './CheckDossier';
import { CheckForm } from './CheckForm';
import { Standing } from './Standing';
import { useChecks, type CheckRow } from './useChecks';
import { TextButton } from '../../components/TextButton';
import { Hint } from '../../components/Hint';

/** Does the estate satisfy our rules? Those that fail first, each with since when, how it stood before, and the rows that are its proof. */
export function ChecksView() {
  const view = useView();
  const mayEdit = useMayEdit();
  const { data: checks, error } = useChecks();
  const sealed = sealedOf(useSurveys().data);
  const [adding, setAdding] = useState(false);
  const parts = useMemo(() => partsOf(checks ?? []), [checks]);
  const order = parts.flatMap(({ rows }) => rows);
  const chosen = view.sel?.startsWith('check:') ? view.sel.slice(6) : null;
  const selected = order.find(({ id }) => id === chosen);
  const failing = order.filter((check) => (check.failing ?? 0) > 0).length;
  const momentOf = (id: number | null) => moment(sealed.find((survey) => survey.id === id)?.startedAt ?? '');
  const choose = (id: string) => {
    setAdding(false);
    view.set({ sel: `check:${id}` });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const at = order.findIndex(({ id }) => id === chosen);
    const next = order[Math.max(0, Math.min(order.length - 1, at + step))];
    if (!next) return;
    choose(next.id);
    document.getElementById(`check-${next.id}`)?.scrollIntoView({ block: 'nearest' });
  };
  return (
    <div className="area">
      <main className="work scrolls">
        <div className="titleline">
          <h1>Checks</h1>
          <span className="quiet" aria-live="polite">
            {checks && (failing === 0 ? 'all hold' : `${failing} of ${order.filter(({ on }) => on).length} fail`)}
          </span>
          {mayEdit && (
            <TextButton
              className="end"
              onClick={() => {
                setAdding(true);
                view.set({ sel: null });
              }}
            >
              Make a check
            </TextButton>
          )}
        </div>
        <Subviews current="checks" />
        {error && <ProblemNote problem={error} />}
        {!checks && !error && (
          <p className="quiet" style={{ padding: '0 16px' }}>
            judging…
          </p>
        )}
        <div
          className="checks"
          role="grid"
          aria-label="Checks"
          tabIndex={0}
          onKeyDown={onKeyDown}
          {...(selected && { 'aria-activedescendant': `check-${selected.id}` })}
        >
          {parts.map(
            ({ title, rows }) =>
              rows.length > 0 && (
                <div key={title} role="rowgroup">
                  <div role="row">
                    <div role="rowheader" className="part">
                      {title} <span className="quiet">{rows.length}</span>
                    </div>
                  </div>
                  {rows.map((check) => (
                    <div
                      key={check.id}
                      id={`check-${check.id}`}
                      role="row"
                      aria-selected={check.id === chosen}
                      className="checkrow"
                      onClick={() => choose(check.id)}
                    >
                      <div role="gridcell">{stateGlyph(check)}</div>
                      <div role="gridcell" className="number">
                        {check.failing && !check.fault ? <b>{check.failing.toLocaleString('en')}</b> : ''}
                        {check.excused ? (
                          <Hint words="of devices in maintenance">
                            <span className="quiet small"> +{check.excused}</span>
                          </Hint>
                        ) : null}
                      </div>
                      <div role="gridcell" className="name">
                        {check.name}
                        {check.scope && (
                          <span className="quiet small">
                            {' '}
                            within <span className="mono">{check.scope}</span>
                          </span>
                        )}
                      </div>
                      <div role="gridcell" className="quiet">
                        {check.severity}
                      </div>
                      <div role="gridcell" className="quiet small">
                        {check.fault && <span className="bad">cannot be judged</span>}
                        {check.failingSince === null
                          ? ''
                          : check.failingSince === check.history[0]?.survey && check.history.length > 1
                            ? `since ${momentOf(check.failingSince)} or before`
                            : `since ${momentOf(check.failingSince)}`}
                      </div>
                      <div role="gridcell">
                        <Standing history={check.history} momentOf={momentOf} />
                      </div>
                    </div>
                  ))}
                </div>
              ),
          )}
        </div>
      </main>
      {adding && mayEdit ? (
        <Panel label="New check">
          <CheckForm
            editing={null}
            onDone={(id) => {
              setAdding(false);
              if (id) view.set({ sel: `check:${id}` });
            }}
          />
        </Panel>
      ) : (
        selected && (
          <Panel label="Check">
            <CheckDossier key={selected.id} check={selected} momentOf={momentOf} />
          </Panel>
        )
      )}
    </div>
  );
}

const stateGlyph = ({ on, failing, fault }: CheckRow) =>
  !on ? (
    <Glyph name="off" word="off" />
  ) : fault ? (
    <Glyph name="unknown" word="cannot be judged" />
  ) : failing ? (
    <Glyph name="fault" word="fails" />
  ) : failing === null ? (
    <Glyph name="unknown" word="not judged" />
  ) : (
    <Glyph name="up" word="holds" />
  );

/** What fails by severity, then what holds, then what is off. */
function partsOf(checks: CheckRow[]): { title: string; rows: CheckRow[] }[] {
  const bad = (check: CheckRow) => check.on && ((check.failing ?? 0) > 0 || check.fault !== '');
  const bySeverity = (x: CheckRow, y: CheckRow) =>
    severities.indexOf(x.severity) - severities.indexOf(y.severity) ||
    (y.failing ?? 0) - (x.failing ?? 0) ||
    x.name.localeCompare(y.name, 'en');
  return [
    { title: 'Fail', rows: checks.filter(bad).sort(bySeverity) },
    { title: 'Hold', rows: checks.filter((check) => check.on && !bad(check)).sort(bySeverity) },
    { title: 'Off', rows: checks.filter(({ on }) => !on).sort(bySeverity) },
  ];
}

'use client';

import { useState } from 'react';
import { things, type ThingName } from '@/core/things/things';
import { useView } from '../../lib/useView';
import type { ThingRow } from '../../lib/api';
import { ProblemNote } from '../../components/ProblemNote';
import { usePreference } from '../../lib/usePreference';
import { useChosenRows } from '../useChosenRows';
import { Code128, QrCode } from './codes';
import { labelSheets, onSheets, type LabelSheet } from './sheets';
import { CheckBox } from '../../components/CheckBox';
import { TextButton } from '../../components/TextButton';
import { PlainSelect } from '../../components/PlainSelect';
import { PlainInput } from '../../components/PlainInput';

const mostLabels = 1000;
/** Code 128 holds these; what has others gets no bars. */
const printable = /^[\x20-\x7e]+$/;

/** Labels to stick on things: name, serial as text, as QR and as Code 128. */
export function LabelPage() {
  const view = useView();
  const thing: ThingName = view.of === 'modules' ? 'modules' : 'devices';
  const [kept, keep] = usePreference('labels', { sheet: labelSheets[0]?.name ?? '', qr: true, bars: true });
  const [used, setUsed] = useState(0);
  const [marksWanted, setMarksWanted] = useState(true);
  const { rows, total, marked, error } = useChosenRows(thing, mostLabels, false);
  const own = useChosenRows(thing, mostLabels, true);
  const onlyMarked = marksWanted && marked > 0;
  const shown = ((onlyMarked ? own.rows : rows) ?? []).filter((row) => thing === 'devices' || row.serial);
  const sheet = labelSheets.find(({ name }) => name === kept.sheet) ?? labelSheets[0];
  if (error)
    return (
      <main className="paper">
        <ProblemNote problem={error} />
      </main>
    );
  if (!rows || !sheet)
    return (
      <main className="paper">
        <p>reading the rows…</p>
      </main>
    );
  const sheets = onSheets(shown, sheet, used);
  return (
    <main className="paper labels">
      <div className="screen-only controls">
        <h1>
          Labels of {things[thing].title.toLowerCase()} <span className="count">{shown.length}</span>
        </h1>
        <p>
          <label>
            Sheet{' '}
            <PlainSelect
              name="sheet"
              value={sheet.name}
              onChange={(event) => keep({ ...kept, sheet: event.target.value })}
            >
              {labelSheets.map(({ name, words }) => (
                <option key={name} value={name}>
                  {words}
                </option>
              ))}
            </PlainSelect>
          </label>{' '}
          <CheckBox name="qr" label="QR" checked={kept.qr} onChange={(qr) => keep({ ...kept, qr })} />
          <CheckBox name="bars" label="Code 128" checked={kept.bars} onChange={(bars) => keep({ ...kept, bars })} />
          {sheet.columns * sheet.rows > 1 && (
            <label>
              Places used up already{' '}
              <PlainInput
                type="number"
                name="used"
                min={0}
                max={sheet.columns * sheet.rows - 1}
                value={used}
                style={{ width: 60 }}
                onChange={(event) =>
                  setUsed(Math.max(0, Math.min(sheet.columns * sheet.rows - 1, Number(event.target.value) || 0)))
                }
              />
            </label>
          )}{' '}
          {marked > 0 && <CheckBox label="only the rows I marked" checked={marksWanted} onChange={setMarksWanted} />}{' '}
          <TextButton onClick={() => window.print()}>Print</TextButton>
        </p>
        <p className="quiet">
          {shown.length === 0
            ? 'No row fits: there is nothing to print.'
            : `Print at 100 %, without margins.${total > mostLabels && !onlyMarked ? ` Only the first ${mostLabels} of ${total} are here: narrow the table first.` : ''}${thing === 'modules' ? ' Modules without a serial have no label.' : ''}`}
        </p>
      </div>
      {sheets.map((labels, at) => (
        <div
          key={at}
          className={`sheet ${sheet.name.split('-')[0] ?? ''}`}
          style={{ width: `${sheet.page.width}mm`, height: `${sheet.page.height}mm` }}
        >
          {labels.map(
            (row, place) =>
              row && (
                <Label key={row.id} row={row} thing={thing} sheet={sheet} place={place} qr={kept.qr} bars={kept.bars} />
              ),
          )}
        </div>
      ))}
    </main>
  );
}

function Label({
  row,
  thing,
  sheet: { columns, label, left, top, gap },
  place,
  qr,
  bars,
}: {
  row: ThingRow;
  thing: ThingName;
  sheet: LabelSheet;
  place: number;
  qr: boolean;
  bars: boolean;
}) {
  const serial = String(row.serial ?? '');
  const name = thing === 'devices' ? String(row.name) : String(row.model || row.name);
  const where =
    thing === 'devices'
      ? [row.site, row.model].filter(Boolean).join(', ')
      : `${String(row.device)}, ${String(row.name)}`;
  const column = place % columns;
  const line = Math.floor(place / columns);
  return (
    <div
      className="label"
      style={{
        left: `${left + column * (label.width + gap.across)}mm`,
        top: `${top + line * (label.height + gap.down)}mm`,
        width: `${label.width}mm`,
        height: `${label.height}mm`,
      }}
    >
      {qr && serial && <QrCode text={serial} />}
      <div className="words">
        <b>{name}</b>
        <span>{where}</span>
        <span className="mono">{serial || 'no serial'}</span>
        {bars && serial && printable.test(serial) && <Code128 text={serial} />}
      </div>
    </div>
  );
}

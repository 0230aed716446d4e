'use client';

import { roomAt, type Room } from '@/core/floor/floorPlan';
import { compareNaturally } from '@/core/values/naturalOrder';
import { Glyph } from '../../components/Glyph';
import type { ShownMark } from './planMarks';
import { PlainButton } from '../../components/PlainButton';

/** What stands on a plan, room by room: the same as is drawn. */
export function PlanList({
  rooms,
  marks,
  chosen,
  onChoose,
}: {
  rooms: readonly Room[];
  marks: readonly ShownMark[];
  chosen: string | null;
  onChoose: (mark: ShownMark) => void;
}) {
  const places = new Map<string, ShownMark[]>(rooms.map(({ name }) => [name, []]));
  const elsewhere: ShownMark[] = [];
  for (const mark of marks) (places.get(roomAt(mark.at, rooms)?.name ?? '') ?? elsewhere).push(mark);
  const groups: [string, ShownMark[]][] = [
    ...[...places].sort(([x], [y]) => compareNaturally(x, y)),
    ...(elsewhere.length > 0
      ? [[rooms.length > 0 ? 'in no room' : 'on the plan', elsewhere] as [string, ShownMark[]]]
      : []),
  ];
  return (
    <div className="planlist">
      {groups.map(([name, list]) => (
        <section className="section" key={name}>
          <h3>
            {name}{' '}
            <span className="quiet" style={{ fontWeight: 400 }}>
              {list.length === 0
                ? 'nothing here'
                : `${list.filter(({ glyph }) => glyph === 'up').length} of ${list.length} up`}
            </span>
          </h3>
          {[...list]
            .sort((x, y) => x.kind.localeCompare(y.kind) || compareNaturally(x.words, y.words))
            .map((mark) => (
              <PlainButton
                key={mark.key}
                className="planrow"
                aria-pressed={mark.key === chosen || mark.sel === chosen}
                onClick={() => onChoose(mark)}
              >
                <Glyph name={mark.glyph} />
                <b style={{ fontWeight: mark.kind === 'device' ? 600 : 500 }}>{mark.words}</b>{' '}
                <span className="quiet small">{mark.more}</span>
              </PlainButton>
            ))}
        </section>
      ))}
    </div>
  );
}

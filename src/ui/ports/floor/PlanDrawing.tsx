'use client';

import { useEffect, useMemo, useState } from 'react';
import type { PlanLayout, Point } from '@/core/floor/floorPlan';
import { LeftNote } from '../../components/LeftNote';
import { useDraft } from '../../lib/draft';
import { useView } from '../../lib/useView';
import { call, type ApiProblem } from '../../lib/api';
import { PlanCanvas } from './PlanCanvas';
import { shownMarks } from './planMarks';
import { PlanTools, usePlaceable } from './PlanTools';
import { pictureOf } from './PlanView';
import { useDrawing, type Tool } from './useDrawing';
import { usePlansWritten, type FloorPlan } from './useFloorPlans';

/** A plan while it is drawn on: nothing is kept until it is saved, and nothing is lost if saving fails. */
export function PlanDrawing({ found, onDone }: { found: FloorPlan; onDone: () => void }) {
  const { survey } = useView();
  const written = usePlansWritten();
  const { plan } = found;
  const drawing = useDrawing(plan.layout);
  const { layout, changed, undo, redo } = drawing;
  const { left, keep, forget, takenUp } = useDraft<PlanLayout>(`plan ${plan.id} ${plan.revision}`);
  useEffect(() => {
    if (changed) keep(layout);
  }, [changed, layout, keep]);
  const [tool, setTool] = useState<Tool>({ kind: 'move' });
  const [room, setRoom] = useState<number | null>(null);
  const [chosen, setChosen] = useState<string | null>(null);
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const { options, names } = usePlaceable(plan.site, survey, layout.marks);
  const marks = useMemo(() => shownMarks(layout.marks, found, names), [layout.marks, found, names]);
  useEffect(() => {
    if (!changed) return undefined;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [changed]);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (
        !(event.ctrlKey || event.metaKey) ||
        event.key.toLowerCase() !== 'z' ||
        (event.target as HTMLElement).matches('input, textarea')
      )
        return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, [undo, redo]);
  const newRoom = (corners: Point[]) => {
    const taken = new Set(layout.rooms.map(({ name }) => name.toLowerCase()));
    let number = layout.rooms.length + 1;
    while (taken.has(`room ${number}`)) number++;
    drawing.addRoom(`Room ${number}`, corners);
    setRoom(layout.rooms.length);
    setChosen(null);
    setTool({ kind: 'move' });
  };
  const save = async () => {
    setBusy(true);
    setProblem('');
    try {
      await call(`plans/${plan.id}`, {
        method: 'PUT',
        body: { site: plan.site, name: plan.name, revision: plan.revision, ...layout },
      });
      forget();
      onDone();
      await written();
    } catch (error) {
      setProblem((error as ApiProblem).words);
    }
    setBusy(false);
  };
  const mark = marks.find(({ key }) => key === chosen) ?? null;
  return (
    <>
      <PlanTools
        site={plan.site}
        tool={tool}
        onTool={setTool}
        options={options}
        drawing={drawing}
        mark={mark}
        room={room !== null && room < layout.rooms.length ? room : null}
        onRoom={setRoom}
        busy={busy}
        onSave={() => void save()}
        onLeave={onDone}
      />
      {left && (
        <LeftNote
          at={left.at}
          onTake={() => {
            drawing.takeUp(left.value);
            takenUp();
          }}
          onForget={forget}
        />
      )}
      {problem && (
        <p role="alert" className="bad" style={{ padding: '4px 16px' }}>
          {problem}
        </p>
      )}
      <PlanCanvas
        source={pictureOf(found)}
        width={plan.width}
        height={plan.height}
        rooms={layout.rooms}
        marks={marks}
        chosen={chosen}
        onChoose={(one) => {
          setChosen(one?.key ?? null);
          if (one) setRoom(null);
        }}
        label={`Floor plan ${plan.name}, being drawn on`}
        drawn={{
          drawing,
          tool,
          room,
          onRoom: (at) => {
            setRoom(at);
            if (at !== null) setChosen(null);
          },
          onPlaced: () => {
            if (tool.kind === 'place') setChosen(`${tool.mark} ${tool.id}`);
            setTool({ kind: 'move' });
          },
          onNewRoom: newRoom,
        }}
      />
    </>
  );
}

'use client';

import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMemo } from 'react';
import type { PlanMark } from '@/core/floor/floorPlan';
import { useThingPage } from '../../components/table/thingPages';
import { useOutlets } from '../../features/outlets/useOutlets';
import { markKey, type ShownMark } from './planMarks';
import type { Drawing, Tool } from './useDrawing';
import { TextButton } from '../../components/TextButton';

export interface Placeable {
  kind: PlanMark['kind'];
  id: number;
  words: string;
  more: string;
  here: boolean;
}

/** What can be placed on a plan: devices and outlets that are not on it yet, those of its site first. */
export function usePlaceable(
  site: string,
  survey: string | null,
  marks: readonly PlanMark[],
): { options: Placeable[]; names: Map<string, string> } {
  const devices = useThingPage('devices', {
    survey,
    where: '',
    sort: 'name',
    columns: ['name', 'site', 'model'],
    size: 1000,
  }).data;
  const outlets = useOutlets().data;
  return useMemo(() => {
    const all: Placeable[] = [
      ...(devices?.rows ?? []).map((row) => ({
        kind: 'device' as const,
        id: Number(row.id),
        words: String(row.name),
        more: String(row.model),
        here: String(row.site).toLowerCase() === site.toLowerCase(),
      })),
      ...(outlets ?? []).map((row) => ({
        kind: 'outlet' as const,
        id: row.id,
        words: row.label,
        more: [row.room, row.device && `${row.device} ${row.port?.name ?? ''}`].filter(Boolean).join(', '),
        here: row.site.toLowerCase() === site.toLowerCase(),
      })),
    ];
    const placed = new Set(marks.map(markKey));
    return {
      options: all.filter((one) => !placed.has(markKey(one))).sort((x, y) => Number(y.here) - Number(x.here)),
      names: new Map(all.map((one) => [markKey(one), one.words])),
    };
  }, [devices, outlets, marks, site]);
}

/** The tools with which a plan is drawn on, and what they do now. */
export function PlanTools({
  site,
  tool,
  onTool,
  options,
  drawing,
  mark,
  room,
  onRoom,
  busy,
  onSave,
  onLeave,
}: {
  site: string;
  tool: Tool;
  onTool: (tool: Tool) => void;
  options: Placeable[];
  drawing: Drawing;
  mark: ShownMark | null;
  room: number | null;
  onRoom: (at: number | null) => void;
  busy: boolean;
  onSave: () => void;
  onLeave: () => void;
}) {
  const chosenRoom = room === null ? undefined : drawing.layout.rooms[room];
  const told =
    tool.kind === 'place'
      ? `Press where ${tool.words} is.`
      : tool.kind === 'room'
        ? 'Press corner after corner; the first one again, or Enter, closes the room.'
        : mark
          ? `${mark.words}: drag it, or move it with the arrow keys.`
          : chosenRoom
            ? 'Drag its corners.'
            : 'Drag what is there, or choose something to place.';
  return (
    <div className="plantools" role="toolbar" aria-label="Drawing">
      <Autocomplete
        size="small"
        sx={{ width: 250, flex: 'none', '& .MuiOutlinedInput-root': { py: 0, minHeight: 30, fontSize: 13 } }}
        options={options}
        value={null}
        blurOnSelect
        clearOnBlur
        groupBy={({ kind, here }) =>
          `${kind === 'device' ? 'Devices' : 'Outlets'} ${here ? `of ${site}` : 'elsewhere'}`
        }
        getOptionLabel={({ words }) => words}
        getOptionKey={markKey}
        isOptionEqualToValue={(x, y) => markKey(x) === markKey(y)}
        renderOption={(parameters, one) => (
          <li {...parameters} key={markKey(one)}>
            {one.words}
            <span className="quiet small" style={{ marginLeft: 8 }}>
              {one.more}
            </span>
          </li>
        )}
        onChange={(_, one) => one && onTool({ kind: 'place', mark: one.kind, id: one.id, words: one.words })}
        renderInput={(parameters) => (
          <TextField
            {...parameters}
            placeholder="place a device or outlet"
            slotProps={{
              ...parameters.slotProps,
              htmlInput: { ...parameters.slotProps.htmlInput, 'aria-label': 'Place a device or outlet' },
            }}
          />
        )}
      />
      <TextButton
        aria-pressed={tool.kind === 'room'}
        onClick={() => onTool(tool.kind === 'room' ? { kind: 'move' } : { kind: 'room' })}
      >
        {tool.kind === 'room' ? 'Draw no room' : 'Draw a room'}
      </TextButton>
      {tool.kind === 'place' && <TextButton onClick={() => onTool({ kind: 'move' })}>Place nothing</TextButton>}
      {chosenRoom && room !== null && tool.kind === 'move' && (
        <>
          <TextField
            size="small"
            label="Room"
            name="roomName"
            value={chosenRoom.name}
            sx={{ width: 170 }}
            onChange={(event) => drawing.nameRoom(room, event.target.value)}
          />
          <TextButton
            onClick={() => {
              drawing.removeRoom(room);
              onRoom(null);
            }}
          >
            Remove the room
          </TextButton>
        </>
      )}
      {mark && tool.kind === 'move' && (
        <TextButton onClick={() => drawing.takeAway(mark.kind, mark.id)}>Take {mark.words} off the plan</TextButton>
      )}
      <span className="quiet small" role="status" style={{ flex: 1 }}>
        {told}
      </span>
      <TextButton disabled={!drawing.mayUndo} onClick={drawing.undo}>
        Undo
      </TextButton>
      <TextButton disabled={!drawing.mayRedo} onClick={drawing.redo}>
        Redo
      </TextButton>
      <Button size="small" color="secondary" onClick={onLeave}>
        {drawing.changed ? 'Leave it as it was' : 'Done'}
      </Button>
      <Button size="small" variant="contained" disabled={!drawing.changed || busy} onClick={onSave}>
        Save the plan
      </Button>
    </div>
  );
}

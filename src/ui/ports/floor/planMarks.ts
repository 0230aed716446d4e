import type { PlanMark } from '@/core/floor/floorPlan';
import { deviceGlyph, portGlyph, type GlyphName } from '../../components/Glyph';
import type { FloorPlan } from './useFloorPlans';

/** A mark as it is drawn and listed. */
export interface ShownMark extends PlanMark {
  key: string;
  words: string;
  glyph: GlyphName;
  /** its state in words, and who is there */
  more: string;
  /** what is selected by it */
  sel: string;
}

export const markKey = ({ kind, id }: Pick<PlanMark, 'kind' | 'id'>): string => `${kind} ${id}`;

/** Marks with what they mean at the survey viewed; of what is not known any more its number. */
export function shownMarks(
  marks: readonly PlanMark[],
  { devices, outlets }: Pick<FloorPlan, 'devices' | 'outlets'>,
  names: ReadonlyMap<string, string> = new Map(),
): ShownMark[] {
  const [byDevice, byOutlet] = [
    new Map(devices.map((device) => [device.id, device])),
    new Map(outlets.map((outlet) => [outlet.id, outlet])),
  ];
  return marks.map((mark) => {
    const key = markKey(mark);
    if (mark.kind === 'device') {
      const device = byDevice.get(mark.id);
      return {
        ...mark,
        key,
        words: device?.name || names.get(key) || `device ${mark.id}`,
        glyph: device ? deviceGlyph(device.state) : 'unknown',
        more: device ? [device.state || 'not in this survey', device.model].filter(Boolean).join(', ') : '',
        sel: `device:${mark.id}`,
      };
    }
    const outlet = byOutlet.get(mark.id);
    if (!outlet)
      return {
        ...mark,
        key,
        words: names.get(key) ?? `outlet ${mark.id}`,
        glyph: 'unknown',
        more: names.has(key) ? '' : 'deleted',
        sel: `outlet:${mark.id}`,
      };
    const { port, device, admin, oper, duplex, pluggedIn, label } = outlet;
    const state = !port
      ? 'patched to nothing'
      : oper === ''
        ? `${device} ${port.name} is not in this survey`
        : `${device} ${port.name} ${admin === 'down' ? 'switched off' : oper}${oper === 'up' && duplex === 'half' ? ', half duplex' : ''}`;
    return {
      ...mark,
      key,
      words: label,
      glyph: port && oper !== '' ? portGlyph({ ...outlet }) : 'unknown',
      more: [state, pluggedIn].filter(Boolean).join(', '),
      sel: port ? `port:${port.deviceId}:${port.name}` : `outlet:${mark.id}`,
    };
  });
}

/** The mark that lies next in a direction, as arrow keys go: near and not far aside; null where there is none. */
export function markTowards(
  from: ShownMark,
  marks: readonly ShownMark[],
  key: string,
  aspect: number,
): ShownMark | null {
  const [dx, dy] = key === 'ArrowLeft' ? [-1, 0] : key === 'ArrowRight' ? [1, 0] : key === 'ArrowUp' ? [0, -1] : [0, 1];
  let best: ShownMark | null = null;
  let least = Infinity;
  for (const mark of marks) {
    const [x, y] = [(mark.at[0] - from.at[0]) * aspect, mark.at[1] - from.at[1]];
    const along = x * dx + y * dy;
    const aside = Math.abs(x * dy) + Math.abs(y * dx);
    if (mark === from || along <= 0 || aside > 2 * along) continue;
    if (along + 2 * aside < least) [best, least] = [mark, along + 2 * aside];
  }
  return best;
}

import { scaleLinear } from 'd3';

/** A device in a wave. */
export interface PlacedDevice {
  deviceId: number;
  device: string;
  site: string;
  target: string;
  minutes: number;
  why: string[];
  /** devices that it does not go with */
  apart: number[];
  first: string[];
}

export interface Wave {
  start: string;
  end: string;
  placed: PlacedDevice[];
}

export interface Window {
  start: string;
  end: string;
}

/** A bar: a device while it is away. */
export interface Bar {
  wave: number;
  device: PlacedDevice;
  x: number;
  y: number;
  width: number;
  height: number;
  hasName: boolean;
}

/** A window on the page: its own stretch of the axis. */
export interface Bay {
  window: Window;
  /** until when it is drawn: what is left of the window after the last wave is left out */
  until: number;
  x: number;
  width: number;
  /** moments that are written below it, milliseconds since the epoch */
  ticks: { at: number; x: number }[];
  /** where a wave stands in it */
  waves: { wave: number; x: number; width: number }[];
}

export interface WavePlaces {
  bays: Bay[];
  bars: Bar[];
  width: number;
  height: number;
}

export const headRoom = 22;
const gap = 28;
const least = 120;
const barGap = 2;
const [tall, thin] = [18, 7];
/** More bars than these above each other are thin, without names. */
const mostNamed = 14;
const letterWidth = 6.6;
const footRoom = 18;
const hourMs = 3_600_000;

const at = (moment: string) => Date.parse(moment);

/** Windows side by side, each as wide as it is long, with what lies between left out; in each the devices as bars from when they go to when they are back. */
export function wavePlaces(windows: readonly Window[], waves: readonly Wave[], room: number): WavePlaces {
  const used = windows.filter(({ start, end }) =>
    waves.some((wave) => at(wave.start) >= at(start) && at(wave.end) <= at(end)),
  );
  const drawnUntil = ({ start, end }: Window) => {
    const last = Math.max(
      ...waves.filter((wave) => at(wave.start) >= at(start) && at(wave.end) <= at(end)).map((wave) => at(wave.end)),
    );
    return Math.min(at(end), at(start) + Math.ceil((last - at(start)) / hourMs) * hourMs);
  };
  const total = used.reduce((sum, window) => sum + drawnUntil(window) - at(window.start), 0);
  const free = Math.max(0, room - gap * Math.max(0, used.length - 1));
  const deepest = Math.max(0, ...waves.map(({ placed }) => placed.length));
  const height = deepest > mostNamed ? thin : tall;
  const bays: Bay[] = [];
  const bars: Bar[] = [];
  let x = 0;
  for (const window of used) {
    const [from, to] = [at(window.start), drawnUntil(window)];
    const width = Math.max(least, total === 0 ? 0 : (free * (to - from)) / total);
    const scale = scaleLinear([from, to], [x, x + width]);
    const hours = Math.max(1, Math.ceil((to - from) / hourMs / Math.max(1, Math.floor(width / 60))));
    const ticks = [];
    for (let tick = from; tick <= to; tick += hours * hourMs) ticks.push({ at: tick, x: scale(tick) });
    const own: Bay['waves'] = [];
    waves.forEach((wave, nth) => {
      if (at(wave.start) < from || at(wave.end) > to) return;
      const left = scale(at(wave.start));
      own.push({ wave: nth, x: left, width: scale(at(wave.end)) - left });
      wave.placed.forEach((device, lane) => {
        const end = scale(Math.min(at(wave.start) + device.minutes * 60_000, at(wave.end)));
        const barWidth = Math.max(3, end - left - 1);
        bars.push({
          ...{ wave: nth, device, x: left, y: headRoom + lane * (height + barGap), width: barWidth, height },
          hasName: height === tall && device.device.length * letterWidth + 8 <= barWidth,
        });
      });
    });
    bays.push({ window, until: to, x, width, ticks, waves: own });
    x += width + gap;
  }
  return {
    bays,
    bars,
    width: Math.max(0, x - gap),
    height: headRoom + Math.max(1, deepest) * (height + barGap) + footRoom,
  };
}

/** A bracket from the end of the earlier bar to the beginning of the later one. */
export function bracket(one: Bar, other: Bar): string {
  const [left, right] = one.x <= other.x ? [one, other] : [other, one];
  const [from, to] = [left.x + left.width, right.x];
  const middle = (from + to) / 2;
  const [up, down] = [left.y + left.height / 2, right.y + right.height / 2];
  return `M${from},${up}H${middle}V${down}H${to}`;
}

/** The wave at a place of the picture; null for none. */
export function waveAt({ bays }: Pick<WavePlaces, 'bays'>, x: number): number | null {
  for (const bay of bays)
    for (const { wave, x: left, width } of bay.waves) if (x >= left && x <= left + width) return wave;
  return null;
}

/** The waves with a device in another one; a wave that is empty then is gone. */
export function moved(waves: readonly Wave[], deviceId: number, to: number): Wave[] {
  const device = waves.flatMap(({ placed }) => placed).find((one) => one.deviceId === deviceId);
  if (!device || !waves[to]) return [...waves];
  return waves
    .map((wave, nth) => {
      const others = wave.placed.filter((one) => one.deviceId !== deviceId);
      return nth === to
        ? { ...wave, placed: [...others, { ...device, why: ['moved here by hand'] }] }
        : { ...wave, placed: others };
    })
    .filter(({ placed }) => placed.length > 0);
}

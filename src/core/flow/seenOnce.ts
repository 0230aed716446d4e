/** What one place of capture counted of a conversation. */
export interface CountedAt {
  point: string;
  events: number;
  packets: number;
  octetsToServer: number;
  octetsToClient: number;
  /** hours since the epoch, in order */
  hours: readonly number[];
}

export interface CountedOnce extends Omit<CountedAt, 'point' | 'hours'> {
  hours: number[];
}

/** Counts of one place, put together: what was captured there one after the other adds up. */
export function byPoint(counted: readonly CountedAt[]): CountedAt[] {
  const found = new Map<string, CountedAt>();
  for (const one of counted) {
    const here = found.get(one.point);
    found.set(
      one.point,
      here
        ? {
            point: one.point,
            events: here.events + one.events,
            packets: here.packets + one.packets,
            octetsToServer: here.octetsToServer + one.octetsToServer,
            octetsToClient: here.octetsToClient + one.octetsToClient,
            hours: [...new Set([...here.hours, ...one.hours])].sort((x, y) => x - y),
          }
        : one,
    );
  }
  return [...found.values()];
}

/**
 * Counts of several places, put together: the same packets seen at two of them count once. Places that heard in hours of their own add up; of those that heard in the same hours, whoever
 * counted most is believed.
 */
export function seenOnce(counted: readonly CountedAt[]): CountedOnce {
  const taken = new Set<number>();
  const total = { events: 0, packets: 0, octetsToServer: 0, octetsToClient: 0 };
  for (const one of byPoint(counted).sort((x, y) => y.packets - x.packets || (x.point < y.point ? -1 : 1))) {
    const isOther = one.hours.every((hour) => !taken.has(hour));
    for (const hour of one.hours) taken.add(hour);
    if (!isOther) continue;
    total.events += one.events;
    total.packets += one.packets;
    total.octetsToServer += one.octetsToServer;
    total.octetsToClient += one.octetsToClient;
  }
  return { ...total, hours: [...taken].sort((x, y) => x - y) };
}

const hoursOfWeek = 168;
/** 1 January 1970 was a Thursday: of a week that begins on Monday, hour 72. */
const firstHour = 72;

/** In how many weeks anything was said in each hour of the week, Monday at midnight (UTC) first. */
export function weekOf(hours: readonly number[]): Uint16Array {
  const week = new Uint16Array(hoursOfWeek);
  for (const hour of hours) {
    const at = (hour + firstHour) % hoursOfWeek;
    week[at] = (week[at] ?? 0) + 1;
  }
  return week;
}

/** What one place of capture counted of a conversation. */
export interface CountedAt {
  point: string;
  events: number;
  packets: number;
  octets: number;
  /** hours since the epoch, in order */
  hours: readonly number[];
}

export interface CountedOnce {
  events: number;
  packets: number;
  octets: number;
  hours: number[];
}

/**
 * Counts of several places, put together: the same packets seen at two of them count once. Places that heard in hours of their own add up; of those that heard in the same hours, whoever
 * counted most is believed.
 */
export function seenOnce(counted: readonly CountedAt[]): CountedOnce {
  const taken = new Set<number>();
  const total = { events: 0, packets: 0, octets: 0 };
  for (const { events, packets, octets, hours } of counted.toSorted(
    (x, y) => y.packets - x.packets || (x.point < y.point ? -1 : 1),
  )) {
    const isOther = hours.every((hour) => !taken.has(hour));
    for (const hour of hours) taken.add(hour);
    if (!isOther) continue;
    total.events += events;
    total.packets += packets;
    total.octets += octets;
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

/** Frames that a port lost since its counters began: ifInErrors, ifOutErrors, ifInDiscards, ifOutDiscards of RFC 2863. */
export type PortCounters = readonly [inErrors: number, outErrors: number, inDiscards: number, outDiscards: number];

/** What one look told of the counters of a device. */
export interface CountersRead {
  /** by port; those at nought are left out */
  ports: Record<string, PortCounters>;
  /** since when they count, in seconds of uptime (RFC 2863, ifCounterDiscontinuityTime), by port; left out where that is the start of the agent */
  since?: Record<string, number>;
  /** when the agent started, in seconds since the epoch, as far as it is known */
  startedAt: number | null;
}

export interface LostFrames {
  errors: number;
  discards: number;
}

const counter32 = 2 ** 32;
/** No port loses so many frames between two looks: a counter that is lower now was begun anew (RFC 2863: at any discontinuity), it has not run over. */
const mostBetween = 2 ** 31;
/** sysUpTime counts hundredths of a second in 32 bits: an agent that nobody restarted seems to start anew every 497 days. */
const uptimeWraps = 2 ** 32 / 100;
/** Clocks of two looks may differ by so many seconds without a restart in between. */
const slack = 120;
const none: PortCounters = [0, 0, 0, 0];

/**
 * What a port lost between two looks. If the agent restarted in between, or says that the port's counters were interrupted, they began anew, and all they tell came since; a counter that is lower than before without that
 * has run over its 32 bits if it was near their end, else it was begun anew.
 * @returns null where the earlier look, or the later, told no counters
 */
export function lostBetween(before: CountersRead | null, now: CountersRead | null, port: string): LostFrames | null {
  if (!before || !now) return null;
  const later = before.startedAt === null || now.startedAt === null ? 0 : now.startedAt - before.startedAt;
  const restarted =
    (later > slack && Math.abs(later - uptimeWraps) > slack) ||
    (before.since?.[port] ?? 0) !== (now.since?.[port] ?? 0);
  const [was, is] = [before.ports[port] ?? none, now.ports[port] ?? none];
  const grown = is.map((count, at) => {
    const earlier = was[at] ?? 0;
    if (restarted || count >= earlier) return restarted ? count : count - earlier;
    const over = count + counter32 - earlier;
    return over < mostBetween ? over : count;
  });
  return { errors: (grown[0] ?? 0) + (grown[1] ?? 0), discards: (grown[2] ?? 0) + (grown[3] ?? 0) };
}

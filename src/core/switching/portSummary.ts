/** What of a port goes into a count. */
export interface CountedPort {
  physical: boolean;
  admin: string;
  oper: string;
  kind: string;
  /** since when it is in its state; null where the device does not tell */
  lastChangeSeconds: number | null;
  machines: number;
}

export interface PortSummary {
  /** sockets, without aggregates and virtual ports */
  sockets: number;
  up: number;
  uplinks: number;
  /** up, leads nowhere else, and machines were heard on it */
  inUse: number;
  /** up and nothing was heard on it */
  quiet: number;
  /** down, and not switched off */
  free: number;
  /** of the free ones those that have been down for so long that they may be used for something else */
  idle: number;
  switchedOff: number;
}

/** Counts the sockets of a switch. @param idleSeconds from how long on a port that is down may be used for something else */
export function summarisePorts(ports: readonly CountedPort[], idleSeconds: number): PortSummary {
  const summary: PortSummary = { sockets: 0, up: 0, uplinks: 0, inUse: 0, quiet: 0, free: 0, idle: 0, switchedOff: 0 };
  for (const { physical, admin, oper, kind, lastChangeSeconds, machines } of ports) {
    if (!physical) continue;
    summary.sockets++;
    if (admin === 'down') summary.switchedOff++;
    else if (oper !== 'up') {
      summary.free++;
      if ((lastChangeSeconds ?? 0) >= idleSeconds) summary.idle++;
    } else {
      summary.up++;
      if (kind === 'uplink') summary.uplinks++;
      else if (machines > 0) summary.inUse++;
      else summary.quiet++;
    }
  }
  return summary;
}

/** The sum of some summaries. */
export function addSummaries(summaries: readonly PortSummary[]): PortSummary {
  const sum: PortSummary = { sockets: 0, up: 0, uplinks: 0, inUse: 0, quiet: 0, free: 0, idle: 0, switchedOff: 0 };
  for (const one of summaries) for (const field of Object.keys(sum) as (keyof PortSummary)[]) sum[field] += one[field];
  return sum;
}

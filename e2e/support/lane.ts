/** Suites run beside each other, each in a lane with loopback networks of its own (127.0.0.0/8): nobody hears somebody else's agents. */
const lane = Number(process.env.JEST_WORKER_ID ?? 1);
const networksOfLane = 22;
const lanes = 8;
const firstNetwork = 20;

let given = 0;

/** A /16 that no other lane has, and no other network of this suite: `127.83.0.0`. */
export function networkOfLane(): string {
  const own = given++ % networksOfLane;
  return `127.${firstNetwork + ((lane - 1) % lanes) * networksOfLane + own}.0.0`;
}

/** What of a device is held against what it was, before and after it was started anew. */
export interface Standing {
  /** ports that are up, by name */
  portsUp: string[];
  /** who is heard on which port: `sgh-core-1 on e1/49` */
  neighbours: string[];
  /** whose address is learned on which port */
  endpoints: string[];
  /** with whom routes are exchanged */
  peers: string[];
}

const words: Readonly<Record<keyof Standing, (what: string) => string>> = {
  portsUp: (what) => `port ${what} is not up any more`,
  neighbours: (what) => `${what} is not heard any more`,
  endpoints: (what) => `${what} is not learned any more`,
  peers: (what) => `the peer ${what} is gone`,
};

/** Machines that sleep say nothing: so large a share of endpoints may be missing. */
const quietShare = 0.2;

/** What is not there any more, in words, the gravest first. What is new is no loss. Endpoints come and go: they are told only where more than a fifth is missing. */
export function lostSince(before: Standing, after: Standing): string[] {
  const gone = (kind: keyof Standing) => {
    const there = new Set(after[kind]);
    return before[kind].filter((one) => !there.has(one));
  };
  const told = (['portsUp', 'neighbours', 'peers'] as const).flatMap((kind) => gone(kind).map(words[kind]));
  const endpoints = gone('endpoints');
  if (endpoints.length > before.endpoints.length * quietShare) told.push(...endpoints.map(words.endpoints));
  return told;
}

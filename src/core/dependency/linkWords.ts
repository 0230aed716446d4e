import type { LinkFacts } from '../topology/links';

/** A link by its ends: “sgh-core-1 3/1 – lqy-ring 1”. */
export const linkWords = ({ a, b }: Pick<LinkFacts, 'a' | 'b'>): string =>
  `${`${a.device} ${a.port}`.trimEnd()} – ${`${b.device} ${b.port}`.trimEnd()}`;

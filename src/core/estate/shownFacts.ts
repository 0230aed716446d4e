import type { LinkFacts } from '../topology/links';
import type { MachineFacts, PortFacts } from './facts';

/** What a port gives, in words a person filters by. */
export function powerWords(poe: PortFacts['poe'] | undefined): string {
  if (!poe) return '';
  if (!poe.enabled) return 'switched off';
  return poe.class === null ? poe.state : `${poe.state}, class ${poe.class}`;
}

/** What tables show of facts that is not kept as they show it, and is compared all the same. */
export const shownOfPort = ({ poe, disabledBy }: PortFacts) => ({
  power: powerWords(poe),
  disabledBy: disabledBy ?? '',
});

export const shownOfMachine = ({ adapters }: MachineFacts) => ({
  macs: adapters.flatMap(({ mac }) => mac ?? []),
  networks: [...new Set(adapters.flatMap(({ network }) => network ?? []))],
});

export const shownOfLink = ({ issues }: LinkFacts) => ({ issueWords: issues.map(({ words }) => words).join('; ') });

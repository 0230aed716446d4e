import type { PortFacts } from './facts';

/** Whether frames of a VLAN leave by a port, with its tag or without. */
export const carriesVlan = (
  { vlan, taggedVlans, untaggedVlans = [] }: Pick<PortFacts, 'vlan' | 'taggedVlans' | 'untaggedVlans'>,
  wanted: number,
): boolean => vlan === wanted || taggedVlans.includes(wanted) || untaggedVlans.includes(wanted);

import type { ToldByNeighbour } from '../mib/lldpExtensions';
import { mediaOfMau } from '../mib/mau';
import type { LinkFacts } from '../topology/links';
import type { MachineFacts, PortFacts } from './facts';

/** What a port gives, in words a person filters by. */
export function powerWords(poe: PortFacts['poe'] | undefined): string {
  if (!poe) return '';
  if (!poe.enabled) return 'switched off';
  return poe.class === null ? poe.state : `${poe.state}, class ${poe.class}`;
}

/** What a neighbour says of itself and of its port, beside who it is: empty where it says no more. */
export function toldWords(told: ToldByNeighbour | undefined): string {
  if (!told) return '';
  const { vendor, model, serial, softwareRevision, firmwareRevision, assetId, vlan, mauType, autoNegotiation } = told;
  const { vlanNames = [], protocolVlans = [], power } = told;
  return [
    [vendor, model].filter(Boolean).join(' '),
    serial && `serial ${serial}`,
    softwareRevision && `software ${softwareRevision}`,
    firmwareRevision && `firmware ${firmwareRevision}`,
    assetId && `asset ${assetId}`,
    vlan !== undefined && `VLAN ${vlan} untagged`,
    vlanNames.length > 0 &&
      `VLANs ${vlanNames.map((one) => (one.name ? `${one.vlan} ${one.name}` : String(one.vlan))).join(', ')}`,
    protocolVlans.length > 0 && `VLANs by protocol ${protocolVlans.join(', ')}`,
    power && `${power.takes ? 'takes' : 'gives'} power${power.class === null ? '' : `, class ${power.class}`}`,
    mauType !== undefined && mediaOfMau(mauType),
    autoNegotiation === false && 'does not negotiate',
    told.aggregated === true && 'in an aggregate',
    told.maxFrame !== undefined && `frames up to ${told.maxFrame} octets`,
  ]
    .filter(Boolean)
    .join(', ');
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

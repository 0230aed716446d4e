import type { MachineFacts } from '../estate/facts';
import type { DeviceIndex, KnownDevice } from '../topology/deviceIndex';
import { macNumber } from '../values/mac';
import { MacTable } from './macTable';

/** What a host says of its machines, or a manager of several hosts: enough to know whose MAC is whose. */
export type ToldMachine = Pick<MachineFacts, 'host' | 'adapters' | 'state'>;

/**
 * On which host each virtual machine runs, by the MACs of its adapters: the word of the host itself (VM-MIB, RFC 7666), or else that of a manager who names the
 * host. Machines that do not run are left out: what they had may be on another host by now.
 * @returns MAC as a number → the number of the host's device
 */
export function hostsOfMachines(
  devices: readonly (KnownDevice & { machines?: readonly ToldMachine[] })[],
  index: DeviceIndex,
): MacTable {
  const hosts = new MacTable();
  const told = (own: boolean) => {
    for (const { id, machines = [] } of devices) {
      for (const { host, adapters, state } of machines) {
        if (state === 'off' || (host === '') !== own) continue;
        const on = own ? id : index.byName(host)?.id;
        if (on === undefined) continue;
        for (const { mac } of adapters) {
          const number = mac === null ? null : macNumber(mac);
          if (number !== null && !hosts.has(number)) hosts.set(number, on);
        }
      }
    }
  };
  told(true);
  told(false);
  return hosts;
}

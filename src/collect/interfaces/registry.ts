import { fabricInterface } from '../adapters/fabric/fabricInterface';
import { hypervisorInterface } from '../adapters/hypervisors/hypervisorInterface';
import { wirelessInterface } from '../adapters/wireless/wirelessInterface';
import { redfishInterface } from '../redfish/redfishInterface';
import { restconfInterface } from '../restconf/restconfInterface';
import type { VendorInterface } from './vendorInterface';

/** Every way in over HTTPS, in the order in which an address is asked for them. */
export const vendorInterfaces: VendorInterface[] = [
  redfishInterface,
  restconfInterface,
  wirelessInterface,
  fabricInterface,
  hypervisorInterface,
];

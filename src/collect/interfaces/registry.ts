import { redfishInterface } from '../redfish/redfishInterface';
import type { VendorInterface } from './vendorInterface';

/** Every way in over HTTPS, in the order in which an address is asked for them. */
export const vendorInterfaces: VendorInterface[] = [redfishInterface];

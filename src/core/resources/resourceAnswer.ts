import type { DeviceReport } from '../estate/facts';
import type { HarvestPart, PartState } from '../estate/harvest';

/** What an interface told of one device, and which parts of it are whole. */
export interface ToldDevice {
  report: DeviceReport;
  parts: Partial<Record<HarvestPart, PartState>>;
}

/** What an interface told: of the device itself, and, where it is a controller, of those it looks after. */
export interface ResourceAnswer extends ToldDevice {
  others?: ToldDevice[];
}

/** A part that was asked and whole. */
export const wholePart: PartState = { state: 'whole', seconds: 0 };

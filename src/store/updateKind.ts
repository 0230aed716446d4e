import type { DeviceFacts } from '../core/estate/facts';
import type { Signature } from '../core/signatures/signature';
import type { Store } from './base/database';
import { openFact } from './base/facts';
import { readSignatures } from './programFiles';

/** By which interface the firmware of a device is changed, or why it cannot be. */
export function updateKind(
  store: Store,
  deviceId: number,
  signatures: () => readonly Signature[] = () => readSignatures(store.folder),
): { kind: 'redfish' | 'restconf' } | { reason: string } {
  const device = openFact<DeviceFacts>(store.db, 'device', deviceId, 'device');
  if (!device) return { reason: 'it is not in the newest survey' };
  const kinds = new Set(device.interfaces?.map(({ kind }) => kind));
  if (kinds.has('redfish')) return { kind: 'redfish' };
  if (!kinds.has('restconf')) return { reason: 'it has neither Redfish nor RESTCONF' };
  const signature = signatures().find(({ id }) => id === device.signature);
  return signature?.update
    ? { kind: 'restconf' }
    : { reason: `its signature ${device.signature} does not say how its firmware is changed` };
}

import type { DeviceReport } from '../estate/facts';
import { chooseSignature, recognise, type Signature } from './signature';

/**
 * A report that no SNMP agent told (Redfish), recognised by its description, maker and model: what the signature says stands in place of what the service called itself.
 * The generic signature adds nothing to such a report.
 */
export function recogniseReport(report: DeviceReport, signatures: Signature[]): DeviceReport {
  const { device, modules } = report;
  const chassis = modules.find((module) => module.class === 'chassis');
  const specific = signatures.filter(({ match }) => match.description ?? match.chassisModel ?? match.manufacturer);
  const signature = chooseSignature(specific, device, {
    model: device.model || (chassis?.model ?? ''),
    vendor: device.vendor || (chassis?.vendor ?? ''),
  });
  if (!signature) return report;
  const read = recognise(
    signature,
    { description: device.description, services: null },
    chassis ? [{ ...chassis, class: 'chassis' }] : [],
  );
  return {
    ...report,
    device: {
      ...device,
      signature: signature.id,
      role: signature.role === 'unknown' ? device.role : signature.role,
      vendor: read.vendor || device.vendor,
      family: read.family || device.family,
      model: (signature.model && read.model) || device.model,
      release: (signature.release && read.release) || device.release,
      serial: (signature.serial && read.serial) || device.serial,
    },
  };
}

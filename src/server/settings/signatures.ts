import type { DeviceFacts, ModuleFacts } from '../../core/estate/facts';
import type { PhysicalRow } from '../../core/mib/entity';
import type { SystemGroup } from '../../core/mib/system';
import { chooseSignature, recognise, type Signature } from '../../core/signatures/signature';
import { startedSignature } from '../../core/signatures/startedSignature';
import { latestSealed } from '../../store/base/sealedSurveys';
import type { Store } from '../../store/base/database';
import { factsAsOf } from '../../store/base/facts';
import { readSignatures } from '../../store/programFiles';

/** What a signature would make of a known device. */
export interface SignatureTrial {
  deviceId: number;
  device: string;
  /** the signature that knows it now */
  now: string;
  vendor: string;
  role: string;
  family: string;
  model: string;
  release: string;
  serial: string;
  /** fields in which that differs from what is known */
  differs: string[];
}

const tried = ['vendor', 'role', 'family', 'model', 'release', 'serial'] as const;

/** Tries a signature, saved or not, on everything the newest survey knows: the devices it would recognise, and what it would say of them. */
export function trySignature(store: Store, signature: Signature): { rows: SignatureTrial[]; total: number } {
  const survey = latestSealed(store.db);
  const all = [...readSignatures(store.folder).filter(({ id }) => id !== signature.id), signature];
  const chassis = new Map(
    factsAsOf<ModuleFacts>(store.db, 'module', survey)
      .filter(({ content }) => content.class === 'chassis')
      .map(({ deviceId, content }) => [deviceId, content]),
  );
  const rows = factsAsOf<DeviceFacts>(store.db, 'device', survey).flatMap(({ deviceId, content }): SignatureTrial[] => {
    const own = chassis.get(deviceId);
    const system: SystemGroup = {
      description: content.description,
      objectId: content.objectId,
      uptimeSeconds: null,
      contact: content.contact,
      name: content.name,
      location: content.location,
      services: null,
      engineId: null,
    };
    if (chooseSignature(all, system, own ?? { model: content.model, vendor: content.vendor })?.id !== signature.id)
      return [];
    const read = recognise(signature, system, own ? [physicalOf(own)] : []);
    return [
      {
        deviceId,
        device: content.name,
        now: content.signature,
        ...read,
        differs: tried.filter((field) => String(read[field]) !== String(content[field])),
      },
    ];
  });
  return { rows, total: rows.length };
}

/** Every signature, with how many devices each knows now. */
export function signatureList(store: Store) {
  const counts = new Map<string, number>();
  const devices = factsAsOf<DeviceFacts>(store.db, 'device', latestSealed(store.db));
  for (const { content } of devices) counts.set(content.signature, (counts.get(content.signature) ?? 0) + 1);
  const rows = readSignatures(store.folder)
    .sort((x, y) => x.order - y.order || x.id.localeCompare(y.id))
    .map((signature) => ({ id: signature.id, devices: counts.get(signature.id) ?? 0, signature }));
  const unknown = devices
    .filter(({ content }) => content.signature === 'generic')
    .map(({ deviceId, content }) => ({ deviceId, device: content.name, started: startedSignature(content) }));
  return { rows, total: rows.length, unknown };
}

function physicalOf({
  name,
  description,
  position,
  hardwareRevision,
  firmwareRevision,
  softwareRevision,
  serial,
  vendor,
  model,
  replaceable,
}: ModuleFacts): PhysicalRow {
  return {
    entPhysicalIndex: 1,
    containedIn: 0,
    class: 'chassis',
    name,
    description,
    position,
    hardwareRevision,
    firmwareRevision,
    softwareRevision,
    serial,
    vendor,
    model,
    assetId: '',
    replaceable,
  };
}

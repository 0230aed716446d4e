import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { scopeDefaults } from '../../src/core/estate/scope';
import { imageContent } from '../../src/sim/firmware/imageContent';
import { sha256 } from '../../src/sim/firmware/imageFetch';
import { ostermere } from '../../src/sim/ostermere/estate';
import { restconfData, sampleNetworkUser } from '../../src/sim/ostermere/services';
import { RestconfDevice } from '../../src/sim/restconf/deviceService';
import { ImageFlash } from '../../src/sim/restconf/imageFlash';
import { saveCredential } from '../../src/store/credentials';
import { imagesFolder } from '../../src/store/images';
import { saveScope } from '../../src/store/scopes';
import { sampleKeys, type SampleStore } from './sampleStore';

const estate = ostermere(8);
export const leaves = estate.devices.filter(({ access }) => access === 'restconf');
export const outside = (address: string) => address.replace(/^10\.72\./, '127.209.');

/** A leaf of the sample that takes images, on a socket of its own. */
export async function startLeaf(
  nth: number,
  port: number,
  releaseOf: (file: string, content: Buffer) => string,
  octets = 1_000_000,
): Promise<{ name: string; release: string; flash: ImageFlash; service: RestconfDevice }> {
  const device = leaves[nth];
  if (!device) throw new Error('the sample has no such leaf');
  const own = { file: 'fen-now.bin', release: device.release, content: imageContent('fen-now.bin', 1000) };
  const flash = new ImageFlash(own, releaseOf, octets, 150);
  const place = { address: outside(device.address), port };
  const service = new RestconfDevice({ ...place, ...sampleNetworkUser }, restconfData(device, estate), flash);
  await service.listen();
  return { name: device.name, release: device.release, flash, service };
}

/** Surveys addresses, and keeps a user that may act there. */
export async function surveyedToAct(
  { store, survey }: SampleStore,
  ranges: string[],
  user: { user: string; password: string },
  kind: 'redfish' | 'restconf',
  port: number,
): Promise<void> {
  const scope = { ranges, translations: [`10.72.0.0/16 via 127.209.0.0/16 https ${port}`], timeoutMs: 300, retries: 0 };
  await survey({ credentials: sampleKeys.filter((one) => one.kind === kind) }, scope);
  const approved = { prefixes: ['127.209.0.0/16'], ports: [port] };
  saveCredential(store, { name: 'eyes', kind, ...user, approved });
  saveCredential(store, { name: 'hands', kind, ...user, purpose: 'write', approved });
  saveScope(store.db, {
    ...{ ...scopeDefaults, name: 'Ostermere', ...scope },
    ...{ credentials: ['eyes'], writeCredentials: ['hands'] },
  });
}

/** Puts an image into the folder. */
export function layImage({ store }: SampleStore, file: string, bytes = 200_000) {
  const content = imageContent(file, bytes);
  mkdirSync(imagesFolder(store.folder), { recursive: true });
  writeFileSync(path.join(imagesFolder(store.folder), file), content);
  return { file, bytes, hash: sha256(content) };
}

export const restarts = ({ taken }: ImageFlash): number => taken.filter((one) => one === 'restart').length;

import type { Seen, Ways } from '../../core/firmware/doing/course';
import { listAt, numberAt, textAt, type Json } from '../../core/resources/json';
import { valueAtPointer } from '../../core/resources/jsonPointer';
import { filledIn, type UpdateOverRestconf } from '../../core/signatures/updateOverRestconf';
import type { RestconfCaller } from '../restconf/restconfInterface';
import type { CopyWish, SentRequest, UpdateWay } from './updateWay';

/** Firmware over RESTCONF, as the signature of the device says: its own resource of images, and operations that copy, say what starts next, and restart. */
export class RestconfUpdate implements UpdateWay {
  readonly ways: Ways;

  constructor(
    readonly service: RestconfCaller,
    readonly told: UpdateOverRestconf,
  ) {
    this.ways = { startsByItself: false, hasNext: told.setNext !== undefined };
  }

  async seen(): Promise<Seen> {
    const { told } = this;
    const state = await this.service.get(told.state);
    const system = await this.service.get('/data/ietf-system:system-state');
    const at = (pointer: string | undefined) => (pointer === undefined ? undefined : valueAtPointer(state, pointer));
    const transfer = at(told.transfer?.at);
    const stateOf = textAt(transfer, told.transfer?.state ?? '');
    return {
      running: textAt(at(told.running)),
      startedAs: textAt(system, 'ietf-system:system-state', 'clock', 'boot-datetime'),
      images: listAt(at(told.images.at)).map((one) => ({
        file: textAt(one, told.images.file),
        release: textAt(one, told.images.release ?? ''),
        hash: textAt(one, told.images.hash ?? '').toLowerCase(),
      })),
      next: told.next === undefined ? null : textAt(at(told.next)),
      freeBytes: numberAt(at(told.free)),
      transfer:
        told.transfer === undefined || stateOf === ''
          ? null
          : {
              file: textAt(transfer, told.transfer.file),
              state:
                stateOf === told.transfer.isDone ? 'done' : stateOf === told.transfer.isFailed ? 'failed' : 'running',
              percent: numberAt(transfer, told.transfer.percent ?? ''),
              words: textAt(transfer, told.transfer.words ?? ''),
            },
    };
  }

  copy({ url, file, hash, bytes }: CopyWish): SentRequest {
    return this.#request(this.told.copy, { url, file, hash, bytes: String(bytes ?? '') });
  }

  setNext(file: string): SentRequest | null {
    return this.told.setNext ? this.#request(this.told.setNext, { file }) : null;
  }

  restart(): SentRequest {
    return this.#request(this.told.restart, {});
  }

  async send({ path, body }: SentRequest): Promise<string> {
    await this.service.post(path, body as Json);
    return '';
  }

  #request({ path, body }: { path: string; body: unknown }, values: Record<string, string>): SentRequest {
    return { method: 'POST', path, body: filledIn(body, values) };
  }
}

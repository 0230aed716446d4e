import type { Seen, Ways } from '../../core/firmware/doing/course';
import { listAt, numberAt, objectAt, textAt, type Json } from '../../core/resources/json';
import { ResourceError } from '../https/resourceSource';
import type { RedfishService } from '../redfish/redfishService';
import type { CopyWish, SentRequest, UpdateWay } from './updateWay';

const root = '/redfish/v1';
const usualAction = `${root}/UpdateService/Actions/UpdateService.SimpleUpdate`;
/** DSP0266: when what was given is applied. */
const applyTimes = { now: 'Immediate', restart: 'OnReset', window: 'AtMaintenanceWindowStart' } as const;
/** States of a task (DSP0266, Task schema) that say that it is not over, that it waits with all it needs, that it went wrong. */
const under = new Set(['New', 'Starting', 'Running', 'Stopping', 'Suspended', 'Interrupted']);
const waits = new Set(['Pending']);
const wrong = new Set(['Exception', 'Killed', 'Cancelled', 'Cancelling']);
const mostMembers = 500;
/** Of many tasks the latest are looked at, which stand last. */
const mostTasks = 60;

/** Firmware by UpdateService.SimpleUpdate and its tasks (DSP0266). The controller fetches the image, and applies it when it was told to. */
export class RedfishUpdate implements UpdateWay {
  readonly ways: Ways = { startsByItself: true, hasNext: false };
  #action = usualAction;
  #item = '';

  /**
   * @param name of the component in the inventory of firmware
   * @param url of the image, which is of this course alone: by it its task is known again, whoever began it
   */
  constructor(
    readonly service: Pick<RedfishService, 'get' | 'post'>,
    readonly name: string,
    readonly url: string,
    readonly file: string,
  ) {}

  async seen(): Promise<Seen> {
    const update = await this.service.get(`${root}/UpdateService`);
    this.#action = textAt(update, 'Actions', '#UpdateService.SimpleUpdate', 'target') || usualAction;
    const inventory = textAt(update, 'FirmwareInventory', '@odata.id') || `${root}/UpdateService/FirmwareInventory`;
    const items = await this.#members(inventory);
    const own = items.find(({ body }) => textAt(body, 'Name').toLowerCase() === this.name.toLowerCase());
    this.#item = own?.path ?? '';
    const task = await this.#task();
    return {
      running: textAt(own?.body, 'Version'),
      startedAs: await this.#startedAs(own?.body),
      images:
        task && !under.has(task.state) && !wrong.has(task.state) ? [{ file: this.file, release: '', hash: '' }] : [],
      next: null,
      freeBytes: null,
      transfer: task && {
        file: this.file,
        state: under.has(task.state) ? 'running' : wrong.has(task.state) ? 'failed' : 'done',
        percent: task.percent,
        words: task.words || (waits.has(task.state) ? 'waits to be applied' : ''),
      },
    };
  }

  copy({ url, start, window }: CopyWish): SentRequest {
    return {
      method: 'POST',
      path: this.#action,
      body: {
        ImageURI: url,
        TransferProtocol: 'HTTP',
        ...(this.#item && { Targets: [this.#item] }),
        '@Redfish.OperationApplyTime': applyTimes[start],
        ...(start === 'window' &&
          window && {
            '@Redfish.MaintenanceWindow': {
              MaintenanceWindowStartTime: new Date(window.from).toISOString(),
              MaintenanceWindowDurationInSeconds: Math.round((window.until - window.from) / 1000),
            },
          }),
      },
    };
  }

  setNext(): null {
    return null;
  }

  restart(): null {
    return null;
  }

  async send({ path, body }: SentRequest): Promise<string> {
    const answer = await this.service.post(path, body as Json);
    return textAt(answer, '@odata.id');
  }

  /** When what it belongs to was reset last: that of the part it is for, else of the first controller. */
  async #startedAs(item: Json | undefined): Promise<string> {
    const related = textAt(listAt(item, 'RelatedItem')[0], '@odata.id');
    const path = related || (await this.#members(`${root}/Managers`))[0]?.path;
    if (!path) return '';
    return textAt(await this.#perhaps(path), 'LastResetTime');
  }

  /** The task of this course, known by the image it was given. */
  async #task(): Promise<{ state: string; percent: number | null; words: string } | null> {
    for (const { body } of (await this.#members(`${root}/TaskService/Tasks`, mostTasks)).reverse()) {
      if (!textAt(body, 'Payload', 'JsonBody').includes(this.url)) continue;
      const messages = listAt(body, 'Messages').map((one) => textAt(one, 'Message'));
      return {
        state: textAt(body, 'TaskState'),
        percent: numberAt(body, 'PercentComplete'),
        words: messages.filter(Boolean).at(-1) ?? '',
      };
    }
    return null;
  }

  /** @param last so many of the last alone */
  async #members(collection: string, last = mostMembers): Promise<{ path: string; body: Json }[]> {
    const members: Json[] = [];
    for (let page: string | null = collection; page !== null && members.length < mostMembers;) {
      const body: Json = await this.#perhaps(page);
      members.push(...listAt(body, 'Members'));
      const next: string = textAt(body, 'Members@odata.nextLink');
      page = next.startsWith(`${root}/`) ? next : null;
    }
    const found: { path: string; body: Json }[] = [];
    for (const member of members.slice(-last)) {
      const path = textAt(member, '@odata.id');
      if (!path.startsWith(`${root}/`)) continue;
      // some give members as a whole
      const isWhole = Object.keys(objectAt(member) ?? {}).length > 1;
      const own = isWhole ? member : await this.#perhaps(path);
      if (own !== null) found.push({ path, body: own });
    }
    return found;
  }

  /** What is not there is nothing; a task may go between two looks. */
  async #perhaps(path: string): Promise<Json> {
    try {
      return await this.service.get(path);
    } catch (error) {
      if (error instanceof ResourceError && error.fault === 'absent') return null;
      throw error;
    }
  }
}

import { fetchImage, wellFetched } from '../firmware/imageFetch';

interface Item {
  name: string;
  version: string;
}

interface Task {
  id: string;
  state: 'Running' | 'Pending' | 'Completed' | 'Exception';
  percent: number;
  message: string;
  payload: string;
  image: string;
}

interface Wish {
  ImageURI?: string;
  Targets?: string[];
  '@Redfish.OperationApplyTime'?: string;
  '@Redfish.MaintenanceWindow'?: { MaintenanceWindowStartTime: string };
}

const inventory = '/redfish/v1/UpdateService/FirmwareInventory';
const tasksPath = '/redfish/v1/TaskService/Tasks';

/** How a management controller takes images for its components: SimpleUpdate, tasks, and when they are applied. */
export class UpdateBay {
  readonly tasks: Task[] = [];
  /** what was applied, in order: `BIOS 2.14.1` */
  readonly applied: string[] = [];
  readonly ills = { ...wellFetched(), startsOld: false, neverBack: false, refuses: false };
  /** so many images were fetched at the same time at most */
  mostAtOnce = 0;
  resetAt = new Date(Date.now() - 86_400_000);
  readonly items: Item[];
  #backAt: number | null = null;
  #waiting: { item: Item; release: string; task: Task }[] = [];

  /** @param releaseOf which release an image is; empty for none */
  constructor(
    items: readonly Item[],
    readonly releaseOf: (file: string, content: Buffer) => string,
    readonly restartMs: number,
  ) {
    this.items = items.map((one) => ({ ...one }));
  }

  get isAway(): boolean {
    if (this.#backAt === null) return false;
    if (!this.ills.neverBack && Date.now() >= this.#backAt) this.#backAt = null;
    return this.#backAt !== null;
  }

  /** It runs what it runs by now; what was applied to it since it began stays. */
  become(items: readonly Item[]): void {
    if (this.applied.length > 0) return;
    for (const { name, version } of items) {
      const own = this.items.find((one) => one.name === name);
      if (own) own.version = version;
    }
  }

  versionOf(name: RegExp): string | undefined {
    return this.items.find((one) => name.test(one.name))?.version;
  }

  /** What stands at a path; undefined where it is none of this. */
  resource(path: string): object | undefined {
    if (path === '/redfish/v1/UpdateService')
      return {
        '@odata.id': path,
        Name: 'Update service',
        FirmwareInventory: { '@odata.id': inventory },
        Actions: { '#UpdateService.SimpleUpdate': { target: `${path}/Actions/SimpleUpdate` } },
      };
    if (path === tasksPath)
      return { '@odata.id': path, Members: this.tasks.map(({ id }) => ({ '@odata.id': `${tasksPath}/${id}` })) };
    const task = this.tasks.find(({ id }) => path === `${tasksPath}/${id}`);
    if (task)
      return {
        '@odata.id': path,
        TaskState: task.state,
        PercentComplete: task.percent,
        Messages: task.message ? [{ Message: task.message }] : [],
        Payload: { HttpOperation: 'POST', TargetUri: '/redfish/v1/UpdateService', JsonBody: task.payload },
      };
    const item = this.items[Number(path.slice(inventory.length + 1)) - 1];
    if (path.startsWith(`${inventory}/`) && item) return { '@odata.id': path, Name: item.name, Version: item.version };
    return undefined;
  }

  /** @returns the status it answers with, and where its task is */
  simpleUpdate(body: string): { status: number; task?: string } {
    const wish = JSON.parse(body || '{}') as Wish;
    const item = this.items[Number(wish.Targets?.[0]?.split('/').at(-1)) - 1];
    if (!wish.ImageURI || !item || this.ills.refuses) return { status: 400 };
    const task: Task = {
      id: String(this.tasks.length + 1),
      state: 'Running',
      percent: 0,
      message: '',
      payload: body,
      image: wish.ImageURI,
    };
    this.tasks.push(task);
    const running = this.tasks.filter(({ state }) => state === 'Running').length;
    this.mostAtOnce = Math.max(this.mostAtOnce, running);
    const file = wish.ImageURI.split('/').at(-1) ?? '';
    fetchImage(wish.ImageURI, Buffer.alloc(0), this.ills, (share) => (task.percent = Math.floor(share * 90)))
      .then(({ content, isWhole }) => {
        const release = isWhole ? this.releaseOf(file, content) : '';
        if (release === '')
          return Object.assign(task, {
            state: 'Exception',
            message: isWhole ? 'The image is not signed by its maker.' : 'The connection broke off.',
          });
        this.#apply(wish, { item, release, task });
        return task;
      })
      .catch((error: unknown) => Object.assign(task, { state: 'Exception', message: (error as Error).message }));
    return { status: 202, task: `${tasksPath}/${task.id}` };
  }

  #apply(wish: Wish, waiting: { item: Item; release: string; task: Task }): void {
    this.#waiting.push(waiting);
    const time = wish['@Redfish.OperationApplyTime'] ?? 'Immediate';
    if (time === 'Immediate') return this.reset();
    Object.assign(waiting.task, { state: 'Pending', percent: 90, message: '' });
    if (time !== 'AtMaintenanceWindowStart') return;
    const from = Date.parse(wish['@Redfish.MaintenanceWindow']?.MaintenanceWindowStartTime ?? '');
    setTimeout(() => this.reset(), Math.max(0, from - Date.now())).unref();
  }

  /** It starts anew, with all that waits for that. */
  reset(): void {
    for (const { item, release, task } of this.#waiting.splice(0)) {
      if (!this.ills.startsOld) item.version = release;
      this.applied.push(`${item.name} ${release}`);
      Object.assign(task, { state: 'Completed', percent: 100 });
    }
    this.resetAt = new Date();
    this.#backAt = Date.now() + this.restartMs;
  }
}

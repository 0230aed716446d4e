import { fetchImage, sha256, wellFetched } from '../firmware/imageFetch';

interface Kept {
  file: string;
  release: string;
  content: Buffer;
}

/** How a switch takes its images, and what may go wrong with it. */
export class ImageFlash {
  running: string;
  next: string;
  /** how often it was started */
  starts = 0;
  /** what it was asked to do, in order */
  readonly taken: string[] = [];
  bootedAt: Date | null = null;
  /** with this release it hears no neighbours; empty for none */
  losesNeighboursWith = '';
  readonly ills = { ...wellFetched(), startsOld: false, neverBack: false, losesRestart: 0 };
  #transfer: { file: string; state: string; percent: number; message: string } | null = null;
  #kept: Kept[];
  #part: { file: string; content: Buffer } | null = null;
  #backAt: number | null = null;

  /**
   * @param releaseOf which release the content of a file is; empty for none
   * @param restartMs how long it is away
   */
  constructor(
    own: Kept,
    readonly releaseOf: (file: string, content: Buffer) => string,
    readonly capacity: number,
    readonly restartMs: number,
    public restarted: (release: string) => void = () => undefined,
  ) {
    this.running = own.file;
    this.next = own.file;
    this.#kept = [own];
  }

  get release(): string {
    return this.#kept.find(({ file }) => file === this.running)?.release ?? '';
  }

  /** While it starts, nothing of it answers. */
  get isAway(): boolean {
    if (this.#backAt === null) return false;
    if (!this.ills.neverBack && Date.now() >= this.#backAt) this.#backAt = null;
    return this.#backAt !== null;
  }

  state(): object {
    const used = this.#kept.reduce((sum, { content }) => sum + content.length, 0);
    return {
      'running-release': this.release,
      'next-start': this.next,
      'free-octets': String(this.capacity - used),
      'kept-image': this.#kept.map(({ file, release, content }) => ({
        'file-name': file,
        ...(release && { release }),
        'sha-256': sha256(content),
        size: String(content.length),
      })),
      ...(this.#transfer && { transfer: this.#transfer }),
    };
  }

  /** @returns the status it answers with */
  operate(name: string, input: Record<string, string>): number {
    if (name === 'fetch') return this.#fetch(input.from ?? '', input['file-name'] ?? '');
    if (name === 'start-with') {
      if (!this.#kept.some(({ file }) => file === input['file-name'])) return 400;
      this.taken.push(`start-with ${input['file-name'] ?? ''}`);
      this.next = input['file-name'] ?? '';
      return 204;
    }
    if (name !== 'restart') return 404;
    if (this.ills.losesRestart-- > 0) return 204;
    this.restart();
    return 204;
  }

  /** It runs another release by now, and nobody saw it being brought there; what was done to it since it began stays. */
  become(release: string): void {
    if (this.starts > 0 || release === this.release) return;
    const own = this.#kept[0];
    if (own) Object.assign(own, { file: own.file.replace(own.release, release), release });
    this.running = this.next = own?.file ?? '';
  }

  forget(file: string): void {
    this.#kept = this.#kept.filter((one) => one.file !== file);
  }

  restart(): void {
    this.taken.push('restart');
    this.starts++;
    this.#backAt = Date.now() + this.restartMs;
    const wanted = this.#kept.find(({ file }) => file === this.next);
    // what is no image is not started
    if (wanted?.release && !this.ills.startsOld) this.running = wanted.file;
    this.bootedAt = new Date();
    this.#transfer = null;
    this.restarted(this.release);
  }

  #fetch(url: string, file: string): number {
    if (this.#transfer?.state === 'under way') return 409;
    this.taken.push(`fetch ${file}`);
    const transfer = { file, state: 'under way', percent: 0, message: '' };
    this.#transfer = transfer;
    const have = this.#part?.file === file ? this.#part.content : Buffer.alloc(0);
    const fail = (message: string) => Object.assign(transfer, { state: 'failed', message });
    fetchImage(url, have, this.ills, (share) => (transfer.percent = Math.floor(share * 100)))
      .then(({ content, isWhole }) => {
        if (!isWhole) {
          this.#part = { file, content };
          fail('the connection broke off');
          return;
        }
        this.#part = null;
        const others = this.#kept.filter((one) => one.file !== file);
        if (others.reduce((sum, one) => sum + one.content.length, content.length) > this.capacity) {
          fail('no room is left');
          return;
        }
        this.#kept = [...others, { file, release: this.releaseOf(file, content), content }];
        Object.assign(transfer, { state: 'complete', percent: 100 });
      })
      .catch((error: unknown) => fail((error as Error).message));
    return 204;
  }
}

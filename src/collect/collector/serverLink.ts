import type { WorkAnswer, WorkQuestion } from '../../core/collectors/protocol';

/** Why the server did not take something. `unreachable` and `busy` pass; `refused` will not. */
export class LinkError extends Error {
  constructor(
    readonly fault: 'unreachable' | 'busy' | 'token' | 'version' | 'refused',
    message: string,
  ) {
    super(message);
    this.name = 'LinkError';
  }
}

const patienceMs = 30_000;

/** The way to the server: requests from here to there only, over TLS. */
export class ServerLink {
  constructor(
    readonly server: string,
    readonly token: string,
    readonly stopped: AbortSignal,
  ) {}

  /** @throws LinkError */
  async work(question: WorkQuestion): Promise<WorkAnswer> {
    return (await this.#post('work', JSON.stringify(question), 'application/json')) as WorkAnswer;
  }

  /** @returns what became of it: stored, known (it had arrived before), over. @throws LinkError */
  async deliver(body: Buffer): Promise<string> {
    return ((await this.#post('deliveries', Uint8Array.from(body), 'application/gzip')) as { state: string }).state;
  }

  async #post(what: string, body: string | Uint8Array<ArrayBuffer>, type: string): Promise<unknown> {
    let answer: Response;
    let text: string;
    try {
      answer = await fetch(`${this.server}/api/v1/collectors/${what}`, {
        method: 'POST',
        headers: { authorization: `Bearer ${this.token}`, 'content-type': type },
        body,
        redirect: 'error',
        signal: AbortSignal.any([this.stopped, AbortSignal.timeout(patienceMs)]),
      });
      text = await answer.text();
    } catch (error) {
      const { cause, message } = error as Error & { cause?: Error };
      throw new LinkError('unreachable', cause?.message || message);
    }
    if (answer.ok) return parsed(text);
    const detail = detailOf(text) ?? `status ${answer.status}`;
    switch (answer.status) {
      case 401:
      case 403:
        throw new LinkError('token', detail);
      case 409:
        throw new LinkError('version', detail);
      case 400:
      case 413:
      case 422:
        throw new LinkError('refused', detail);
      default:
        throw new LinkError('busy', detail);
    }
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new LinkError('busy', 'what answers there is no Bolide server');
  }
}

function detailOf(text: string): string | undefined {
  try {
    return (JSON.parse(text) as { detail?: string }).detail;
  } catch {
    return undefined;
  }
}

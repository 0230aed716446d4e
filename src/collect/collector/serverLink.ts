import type { WorkAnswer, WorkQuestion } from '../../core/collectors/protocol';
import type { ListenersAnswer, TalkBatch } from '../../core/flow/talkBatch';

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
    return (await this.#post('collectors/work', JSON.stringify(question), 'application/json')) as WorkAnswer;
  }

  /** @returns what became of it: stored, known (it had arrived before), over. @throws LinkError */
  async deliver(body: Buffer): Promise<string> {
    const { state } = (await this.#post('collectors/deliveries', Uint8Array.from(body), 'application/gzip')) as {
      state: string;
    };
    return state;
  }

  /** Who is known to listen where. @throws LinkError */
  async listeners(): Promise<ListenersAnswer> {
    return (await this.#send('captures/listeners', { method: 'GET' })) as ListenersAnswer;
  }

  /** Talk that was heard at a host or a mirror port. @returns what became of it: counted, or known since it had arrived before. @throws LinkError */
  async talk(batch: TalkBatch): Promise<string> {
    return ((await this.#post('captures/batches', JSON.stringify(batch), 'application/json')) as { state: string })
      .state;
  }

  #post(what: string, body: string | Uint8Array<ArrayBuffer>, type: string): Promise<unknown> {
    return this.#send(what, { method: 'POST', headers: { 'content-type': type }, body });
  }

  async #send(
    what: string,
    { headers, ...init }: { method: string; headers?: Record<string, string>; body?: string | Uint8Array<ArrayBuffer> },
  ): Promise<unknown> {
    let answer: Response;
    let text: string;
    try {
      answer = await fetch(`${this.server}/api/v1/${what}`, {
        ...init,
        headers: { authorization: `Bearer ${this.token}`, ...headers },
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

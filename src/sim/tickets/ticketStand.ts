/** A ticket as a system for tickets keeps it. */
export interface Ticket {
  number: string;
  /** a change that is planned, or something that broke */
  type: 'change' | 'outage';
  summary: string;
  assignee: string;
  starts: string;
  ends: string | null;
  /** names of what it is on, as people write them */
  affects: string[];
  text: string;
}

const againMs = 1000;

/**
 * A stand-in for a system of tickets: it tells each ticket that is written, changed or closed to whoever listens, and again until that was taken. It knows the address and a token, and nothing else.
 */
export class TicketStand {
  readonly #tickets = new Map<string, Ticket>();
  readonly #waiting = new Map<string, Ticket | null>();
  #timer: NodeJS.Timeout | null = null;
  #sending = false;
  /** answers that were no success, the newest last: what somebody who runs it would see */
  readonly refusals: string[] = [];

  constructor(
    readonly server: string,
    readonly token: string,
    readonly source = 'Ostermere tickets',
  ) {}

  /** Writes a ticket, or writes it over. */
  write(ticket: Ticket): void {
    this.#tickets.set(ticket.number, ticket);
    this.#waiting.set(ticket.number, ticket);
    void this.#tell();
  }

  /** Withdraws a ticket, as if it had never been. */
  withdraw(number: string): void {
    this.#tickets.delete(number);
    this.#waiting.set(number, null);
    void this.#tell();
  }

  /** Whether everything that was written has been told. */
  get isQuiet(): boolean {
    return this.#waiting.size === 0;
  }

  close(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    this.#waiting.clear();
  }

  async #tell(): Promise<void> {
    if (this.#sending) return;
    this.#sending = true;
    for (const [number, ticket] of this.#waiting) {
      if (!(await this.#send(number, ticket))) break;
      // what was written meanwhile is told next
      if (this.#waiting.get(number) === ticket) this.#waiting.delete(number);
    }
    this.#sending = false;
    if (this.#waiting.size > 0) this.#timer = setTimeout(() => void this.#tell(), againMs);
  }

  async #send(number: string, ticket: Ticket | null): Promise<boolean> {
    const address = `${this.server}/api/v1/works/from/${encodeURIComponent(this.source)}/${encodeURIComponent(number)}`;
    try {
      const answer = await fetch(address, {
        method: ticket ? 'PUT' : 'DELETE',
        headers: { authorization: `Bearer ${this.token}`, 'content-type': 'application/json' },
        ...(ticket && {
          body: JSON.stringify({
            kind: ticket.type === 'change' ? 'planned work' : 'incident',
            title: ticket.summary,
            who: ticket.assignee,
            from: ticket.starts,
            until: ticket.ends,
            things: ticket.affects,
            note: ticket.text,
          }),
        }),
      });
      if (answer.ok) return true;
      this.refusals.push(`${number}: ${answer.status} ${await answer.text()}`);
      // what is refused once is refused again: somebody has to mend it
      return answer.status < 500;
    } catch {
      return false;
    }
  }
}

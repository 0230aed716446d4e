import type { DependenceGraph, Need } from './graph';
import { fates, type Cause, type Outcome } from './rehearse';

/** Names in a row: “a, b and c”, of very many the first. */
export function listed(names: readonly string[], joint = 'and', most = 4): string {
  const shown = names.length > most ? [...names.slice(0, most - 1), `${names.length - most + 1} more`] : [...names];
  const last = shown.pop() ?? '';
  return shown.length === 0 ? last : `${shown.join(', ')} ${joint} ${last}`;
}

/** Says why things are lost or lost their spare. */
export class CauseWords {
  constructor(
    readonly graph: DependenceGraph,
    readonly outcome: Outcome,
    /** what a cable is called, by its place */
    readonly cableWords: (cable: number) => string = (cable) => `cable ${cable}`,
  ) {}

  /** In one sentence, without the thing itself: “reaches the rest only over qdp-dist-1”. Empty where nothing happens to it. */
  why(thing: number): string {
    const cause = this.outcome.cause.get(thing);
    return cause ? this.#words(cause) : '';
  }

  /** What gave it another way or stood in for it and is gone; empty where nothing did. */
  spare(thing: number): string {
    const cause = this.outcome.cause.get(thing);
    if (!cause) return '';
    switch (cause.kind) {
      case 'spare':
      case 'gateway':
        return this.#names(cause.gone);
      case 'need':
        return this.#isAnother(cause) ? this.spare(cause.gone[0] ?? -1) : this.#names(cause.gone);
      case 'at':
        return this.spare(cause.device);
      case 'restart':
        return this.#name(cause.host);
      default:
        return '';
    }
  }

  #words(cause: Cause): string {
    const { graph } = this;
    switch (cause.kind) {
      case 'cutOff': {
        const over = [
          ...cause.over.map((one) => this.#name(one)),
          ...cause.cables.map((cable) => this.cableWords(cable)),
        ];
        return over.length === 0
          ? 'nothing joins it to the rest any more'
          : `reaches the rest of the network only over ${listed(over)}`;
      }
      case 'at':
        return `is on ${this.#name(cause.device)}, which ${this.#fateWords(cause.device)}`;
      case 'gateway': {
        const { network } = cause.group;
        const gone = this.#names(cause.gone);
        const left = cause.group.gateways.filter((one) => !cause.gone.includes(one));
        return left.length === 0 || cause.gone.length === cause.group.gateways.length
          ? `${network} has no gateway any more: ${gone} ${cause.gone.length > 1 ? 'were' : 'was'} all there is`
          : `${network} keeps ${this.#names(left)} as its gateway, without ${gone}`;
      }
      case 'restart':
        if (cause.on === null)
          return `ran on ${this.#name(cause.host)}, and no other host of its cluster has room for it`;
        return `starts again on ${this.#name(cause.on)}${cause.isRoomKnown ? '' : ', if there is room: how much it has is not known'}`;
      case 'spare': {
        const ways = [
          ...(cause.onlyOver === null ? [] : [this.#name(cause.onlyOver)]),
          ...(cause.onlyOver === null && cause.onlyCable !== null ? [this.cableWords(cause.onlyCable)] : []),
        ];
        return `its other way led over ${this.#names(cause.gone)}${ways.length > 0 ? `; what is left goes over ${ways.join(' ')} alone` : ''}`;
      }
      case 'need': {
        const need = graph.needs[cause.need];
        if (!need) return '';
        if (need.kind === 'member of') return this.#partWords(need, cause);
        const gone = this.#names(cause.gone);
        const verb = verbs[need.kind];
        // what somebody says is told with who and why
        const said = need.proof.includes(' says: ') ? ` (${need.proof})` : '';
        if (need.from.length === 1 || this.#isAnother(cause)) {
          const [one = -1] = cause.gone;
          return `${verb} ${gone}, which ${this.#fateWords(one)}${said}`;
        }
        const others = need.from.filter((one) => !cause.gone.includes(one));
        if (need.atLeast === 0 && others.length === 0) return `${verb} ${gone}, and goes on without for a while${said}`;
        return others.length === 0
          ? `${verb} any of ${this.#names(need.from)}: none is left${said}`
          : `${verb} ${need.atLeast > 1 ? `${need.atLeast} of ${need.from.length}` : 'any of several'}: ${gone} ${cause.gone.length > 1 ? 'are' : 'is'} gone, ${this.#names(others)} ${others.length > 1 ? 'are' : 'is'} left${said}`;
      }
    }
  }

  /** Of an application: which of its parts, and what lies at the root of it. */
  #partWords({ from, proof }: Need, cause: Cause & { kind: 'need' }): string {
    const { gone } = cause;
    const roots = [...new Set(gone.map((one) => this.#root(one)).filter(Boolean))];
    const because =
      roots.length === 0
        ? ''
        : `: ${gone.length > 1 && roots.length === 1 ? 'all of them ' : ''}${roots.slice(0, 2).join('; ')}`;
    if (this.#isAnother(cause)) return `its ${proof} on ${this.#hosts(gone)} has lost its spare${because}`;
    const left = from.filter((one) => !gone.includes(one));
    const where =
      gone.length === from.length
        ? `its ${proof} is lost on ${this.#hosts(gone)}`
        : `its ${proof} is lost on ${this.#hosts(gone)} and left on ${this.#hosts(left)}`;
    return `${where}${because}`;
  }

  /** Where services run: their names without what they are. */
  #hosts(things: readonly number[]): string {
    return listed(things.map((one) => this.#name(one).split(' on ').at(-1) ?? ''));
  }

  /** What is behind the loss of a thing: followed from one to what it runs on, as long as that is one alone. */
  #root(thing: number): string {
    let at = thing;
    for (const seen = new Set<number>(); !seen.has(at);) {
      seen.add(at);
      const cause = this.outcome.cause.get(at);
      if (!cause) return at === thing ? '' : `${this.#name(at)} is down`;
      if (cause.kind === 'at') at = cause.device;
      else if (cause.kind === 'need' && cause.gone.length === 1) at = cause.gone[0] ?? at;
      else if (at === thing) return this.#words(cause);
      else return `${this.#name(at)} ${this.#words(cause)}`.replace(' its other way', '’s other way');
    }
    return '';
  }

  /** What it needs goes on, but lost its spare itself. */
  #isAnother({ gone }: Cause & { kind: 'need' }): boolean {
    return gone.length > 0 && gone.every((one) => fates[this.outcome.fate[one] ?? 0] === 'degraded');
  }

  #fateWords(thing: number): string {
    const fate = fates[this.outcome.fate[thing] ?? 0];
    if (fate === 'down') return 'is down';
    const cause = this.outcome.cause.get(thing);
    if (fate === 'degraded') return 'has lost its spare';
    return cause?.kind === 'cutOff' ? 'is cut off' : 'is lost';
  }

  #name(thing: number): string {
    return this.graph.things[thing]?.name ?? '';
  }

  #names(things: readonly number[]): string {
    return listed(things.map((one) => this.#name(one)));
  }
}

const verbs = {
  'runs on': 'runs on',
  'hosted by': 'is hosted by',
  'powered by': 'has its power from',
  'member of': 'is a member of',
  'replicates with': 'replicates with',
  'talks to': 'asks',
  stated: 'needs',
} as const;

import type { TableRows } from '../core/mib/table';
import type { Varbind } from '../core/mib/varbind';

/** So many tables are asked for with one question, whether there is anything in them: most answers are a number, and fit one datagram together. */
export const mostRootsAtOnce = 54;

/** Anything that answers as an agent does: a live agent, a walk file. The reader knows nothing else. */
export interface VarbindSource {
  /**
   * Scalars. Objects the agent does not have are left out.
   * @param narrower those that are asked alone where the whole question was not answered: some agents drop what is too wide for them
   * @throws SourceError
   */
  get(oids: string[], narrower?: string[]): Promise<Varbind[]>;
  /**
   * The rows of one table with these columns, which are read side by side.
   * @throws SourceError when the table breaks off; what came before is in its `partial`
   */
  columns(entry: string, columns: readonly number[]): Promise<TableRows>;
  /**
   * Of these tables, those that hold anything: asked with one question, so that the others need none.
   * @throws SourceError
   */
  present(entries: string[]): Promise<Set<string>>;
  /** The same agent in another context: by SNMPv3 context name, or as `community@name` where the version knows none. Null where there is no such way. */
  inContext(name: string): VarbindSource | null;
  close(): void;
  /** tables and subtrees of which it was asked whether it has them, and kept silent to that alone */
  readonly unheard?: ReadonlySet<string>;
  /** how long its latest late answer took that nobody waited for any more, in milliseconds; null where none came */
  lateMs?(): number | null;
}

export type SourceFault =
  | 'no answer'
  | 'wrong credential'
  | 'unknown user'
  | 'wrong digest'
  | 'not in time window'
  | 'cannot decrypt'
  | 'mute'
  | 'misbehaving'
  /** it answered, but only when nobody waited any more */
  | 'too slow'
  /** it cost more than a device may */
  | 'over budget'
  | 'other version'
  | 'port closed'
  | 'unreachable'
  | 'not approved'
  | 'cancelled'
  | 'failed';

/** Why a source gave no, or no whole, answer. */
export class SourceError extends Error {
  constructor(
    readonly fault: SourceFault,
    message: string,
    readonly partial: TableRows = [],
  ) {
    super(message);
    this.name = 'SourceError';
  }
}

import type { MessagePort } from 'node:worker_threads';
import { FilterError } from '../../../core/filter/filterNode';
import { TooManyRowsError } from '../../own/planned';
import { GroupError, SortError } from '../query';
import type { Export, Question } from './answers';

/** To the thread: a question, an export to begin, the next part of one, or that nobody wants the rest. */
export type ToTables =
  /** another way in, for a thread that asks by itself */
  | { kind: 'port'; port: MessagePort }
  | { kind: 'question'; number: number; name: Question; with: unknown[] }
  | { kind: 'export'; number: number; export: Export }
  | { kind: 'next' | 'stop'; number: number };

/** What went wrong, so that it is the same mistake on the other side. */
export interface ToldError {
  name: 'FilterError' | 'GroupError' | 'SortError' | 'TooManyRowsError' | 'Error';
  message: string;
  at?: number;
  expected?: string;
}

/** From the thread: an answer, or a part of an export (null is its end); that a survey was sealed and is read; or that it goes on. */
export type FromTables =
  | { read: number }
  | { beat: true }
  | { number: number; answer: unknown }
  | { number: number; part: string | Uint8Array | null }
  | { number: number; error: ToldError };

export function tellError(error: unknown): ToldError {
  if (error instanceof FilterError)
    return { name: 'FilterError', message: error.message, at: error.at, expected: error.expected };
  if (error instanceof GroupError) return { name: 'GroupError', message: error.message };
  if (error instanceof SortError) return { name: 'SortError', message: error.message };
  if (error instanceof TooManyRowsError) return { name: 'TooManyRowsError', message: error.message };
  return { name: 'Error', message: error instanceof Error ? (error.stack ?? error.message) : String(error) };
}

export function toldError({ name, message, at = 0, expected = '' }: ToldError): Error {
  switch (name) {
    case 'FilterError':
      return new FilterError(message, at, expected);
    case 'GroupError':
      return new GroupError(message);
    case 'SortError':
      return new SortError(message);
    case 'TooManyRowsError':
      return new TooManyRowsError(message);
    default:
      return new Error(message);
  }
}

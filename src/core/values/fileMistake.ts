/** A mistake in a file, at its line (1 is the head) and column. */
export interface FileMistake {
  line: number;
  column: string;
  message: string;
}

/** Exit codes of the contract. */
export const exitCodes = { done: 0, failed: 1, wrongInput: 2, nothingAnswered: 3 } as const;

/** Ends the command with a message for the person and a code for the script. */
export class CommandError extends Error {
  constructor(
    message: string,
    readonly code: number = exitCodes.wrongInput,
  ) {
    super(message);
  }
}

/** A whole number within bounds, or a mistake that names the option. */
export function wholeNumber(option: string, low: number, high: number): (text: string) => number {
  return (text) => {
    const value = Number(text);
    if (!/^\d+$/.test(text) || value < low || value > high)
      throw new CommandError(`${option} “${text}” must be a whole number from ${low} to ${high}`);
    return value;
  };
}

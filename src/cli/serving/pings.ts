/** What is sent to a child, and back. */
export const ping = { ask: 'are you there' };

/** A child tells its parent that it is there as long as it comes round to anything at all, and ends with its parent. */
export function answerPings(): void {
  process.on('message', (message) => {
    if ((message as { ask?: unknown }).ask === ping.ask) process.send?.({ answer: 'here' });
  });
  process.on('disconnect', () => process.exit(0));
}

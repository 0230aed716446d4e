const lookMs = 100;

/** Waits for work, but no longer than until somebody cancels it: what is still under way then is left to end by itself. */
export async function untilCancelled(work: Promise<void>, cancelled: () => boolean): Promise<void> {
  let timer: ReturnType<typeof setInterval> | undefined;
  const over = new Promise<void>((resolve, reject) => {
    timer = setInterval(() => {
      try {
        if (cancelled()) resolve();
      } catch (error) {
        reject(error as Error);
      }
    }, lookMs);
  });
  try {
    await Promise.race([work, over]);
  } finally {
    clearInterval(timer);
    // what fails after nobody waits for it any more is nobody's matter
    work.catch(() => undefined);
  }
}

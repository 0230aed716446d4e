import { useEffect, useState } from 'react';

/**
 * True from one frame behind the first in which `ready` is true, and from then on: for what may wait until the answer that was asked for is on the screen.
 */
export function useAfterPainting(ready: boolean): boolean {
  const [painted, setPainted] = useState(false);
  useEffect(() => {
    if (painted || !ready) return;
    const frame = requestAnimationFrame(() => setTimeout(() => setPainted(true)));
    return () => cancelAnimationFrame(frame);
  }, [painted, ready]);
  return painted;
}

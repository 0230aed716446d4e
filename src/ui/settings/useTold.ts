import { useCallback, useState } from 'react';
import { ApiProblem } from '../lib/api';

/** What came of the act that was done last, in a line. */
export function useTold(): { told: string; tell: (act: () => Promise<string>) => Promise<void> } {
  const [told, setTold] = useState('');
  const tell = useCallback(async (act: () => Promise<string>) => {
    try {
      setTold(await act());
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      setTold(error.words);
    }
  }, []);
  return { told, tell };
}

'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';

/** What is shown anywhere may be covered otherwise now. */
export function useContractsWritten(): () => Promise<void> {
  const client = useQueryClient();
  return useCallback(async () => {
    await Promise.all(
      ['thing', 'dossier', 'print', 'contractEdits', 'one', 'checks', 'today'].map((key) =>
        client.invalidateQueries({ queryKey: [key] }),
      ),
    );
  }, [client]);
}

'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';

/** What is shown anywhere may be another value now. */
export function useOwnWritten(): () => Promise<void> {
  const client = useQueryClient();
  return useCallback(async () => {
    await Promise.all(
      ['thing', 'dossier', 'print', 'edits', 'groups', 'one'].map((key) =>
        client.invalidateQueries({ queryKey: [key] }),
      ),
    );
  }, [client]);
}

export interface EditAnswer {
  rows: number;
  total: number;
  changes: { id: string; row: string; field: string; before: unknown; after: unknown }[];
  edit?: number;
}

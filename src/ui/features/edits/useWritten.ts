'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';

/** After people wrote something: whatever is shown may tell of it, and is asked for anew. */
export function useWritten(): () => Promise<void> {
  const client = useQueryClient();
  return useCallback(() => client.invalidateQueries(), [client]);
}

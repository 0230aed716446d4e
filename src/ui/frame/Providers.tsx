'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { againMs, ApiProblem } from '../lib/api';

/**
 * Questions are asked whatever the browser believes of the network: the application may run on this very machine. What could not be reached is asked again until it answers.
 */
function newClient(): QueryClient {
  return new QueryClient({
    defaultOptions: {
      queries: {
        staleTime: 15_000,
        retry: false,
        refetchOnWindowFocus: true,
        networkMode: 'always',
        refetchInterval: ({ state: { error } }) =>
          error instanceof ApiProblem && error.status === 0 ? againMs : false,
      },
      mutations: { networkMode: 'always' },
    },
  });
}

export function Providers({ children }: { children: ReactNode }) {
  const [client] = useState(newClient);
  return <QueryClientProvider client={client}>{children}</QueryClientProvider>;
}

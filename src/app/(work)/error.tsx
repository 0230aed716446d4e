'use client';

import { Broken } from '@/ui/frame/Broken';

export default function BrokenPage({ error, reset }: { error: Error; reset: () => void }) {
  return <Broken error={error} onAgain={reset} />;
}

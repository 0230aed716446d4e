import { useState } from 'react';
import { moment } from '../lib/format';

/** When a sheet was printed, and for whom: the moment it was first shown, however often it is drawn again. */
export function PrintedBy({ by }: { by: string }) {
  const [at] = useState(() => moment(new Date().toISOString()));
  return (
    <>
      Printed {at} for {by}.
    </>
  );
}

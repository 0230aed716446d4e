import { LedgerWorkspace } from '@/ui/ledger/LedgerWorkspace';

export const metadata = { title: 'Ledger' };

export default function LedgerPage() {
  return <LedgerWorkspace />;
}

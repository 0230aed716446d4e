import { redirect } from 'next/navigation';
import { needsSetup } from '@/server/access/session';
import { FirstStart } from '@/ui/entry/FirstStart';

export const metadata = { title: 'First start' };
export const dynamic = 'force-dynamic';

export default function SetupPage() {
  if (!needsSetup()) redirect('/login');
  return <FirstStart />;
}

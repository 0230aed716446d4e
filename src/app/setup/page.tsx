import { redirect } from 'next/navigation';
import { webStore } from '@/server/access/store';
import { countPeople } from '@/store/people';
import { FirstStart } from '@/ui/entry/FirstStart';

export const metadata = { title: 'First start' };
export const dynamic = 'force-dynamic';

export default function SetupPage() {
  if (countPeople(webStore().db) > 0) redirect('/login');
  return <FirstStart />;
}

import { redirect } from 'next/navigation';
import { webStore } from '@/server/access/store';
import { countPeople } from '@/store/people';
import { SignIn } from '@/ui/entry/SignIn';

export const metadata = { title: 'Sign in' };
export const dynamic = 'force-dynamic';

export default async function LoginPage({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  if (countPeople(webStore().db) === 0) redirect('/setup');
  const { to } = await searchParams;
  // only ever back into this application
  return <SignIn to={to?.startsWith('/') && !to.startsWith('//') ? to : '/today'} />;
}

import { redirect } from 'next/navigation';
import { needsSetup, placeAfterSignIn } from '@/server/access/session';
import { SignIn } from '@/ui/entry/SignIn';

export const metadata = { title: 'Sign in' };
export const dynamic = 'force-dynamic';

export default async function LoginPage({ searchParams }: { searchParams: Promise<{ to?: unknown }> }) {
  if (needsSetup()) redirect('/setup');
  const { to } = await searchParams;
  // only ever back into this application
  return <SignIn to={placeAfterSignIn(to)} />;
}

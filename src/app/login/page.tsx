import { redirect } from 'next/navigation';
import { needsSetup, placeAfterSignIn, whoLooks } from '@/server/access/looking';
import { NewPassword } from '@/ui/entry/NewPassword';
import { SignIn } from '@/ui/entry/SignIn';

export const metadata = { title: 'Sign in' };
export const dynamic = 'force-dynamic';

export default async function LoginPage({ searchParams }: { searchParams: Promise<{ to?: unknown }> }) {
  if (needsSetup()) redirect('/setup');
  const { to } = await searchParams;
  // only ever back into this application
  const place = placeAfterSignIn(to);
  const looking = await whoLooks();
  return looking?.mustChange ? <NewPassword name={looking.person.name} to={place} /> : <SignIn to={place} />;
}

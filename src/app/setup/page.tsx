import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { isFromHere, served } from '@/server/access/served';
import { needsSetup } from '@/server/access/looking';
import { FirstStart } from '@/ui/entry/FirstStart';

export const metadata = { title: 'First start' };
export const dynamic = 'force-dynamic';

export default async function SetupPage() {
  if (!needsSetup()) redirect('/login');
  return <FirstStart needsCode={served().setupCode !== null && !isFromHere(await headers())} />;
}

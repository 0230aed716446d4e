import { BeginPage } from '@/ui/begin/BeginPage';

export const metadata = { title: 'Setting up' };

export default function Begin() {
  return <BeginPage />;
}

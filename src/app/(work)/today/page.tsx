import { TodayWorkspace } from '@/ui/today/TodayWorkspace';

export const metadata = { title: 'Today' };

export default function TodayPage() {
  return <TodayWorkspace />;
}

import { SettingsWorkspace } from '@/ui/settings/SettingsWorkspace';

export const metadata = { title: 'Settings' };

export default function SettingsPage() {
  return <SettingsWorkspace />;
}

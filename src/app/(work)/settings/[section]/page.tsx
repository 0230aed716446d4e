import { notFound } from 'next/navigation';
import { SettingsWorkspace } from '@/ui/settings/SettingsWorkspace';
import { settingsSections as sections } from '@/ui/features/goTo/settingsSections';

interface Address {
  params: Promise<{ section: string }>;
}

export async function generateMetadata({ params }: Address) {
  const { section } = await params;
  return { title: sections.find(({ key }) => key === section)?.title ?? 'Settings' };
}

export default async function SettingsSectionPage({ params }: Address) {
  const { section } = await params;
  const known = sections.find(({ key }) => key === section);
  if (!known) notFound();
  return <SettingsWorkspace section={known.key} />;
}

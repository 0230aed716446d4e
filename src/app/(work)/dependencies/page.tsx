import { DependenciesWorkspace } from '@/ui/dependencies/DependenciesWorkspace';

export const metadata = { title: 'Dependencies' };

export default function DependenciesPage() {
  return <DependenciesWorkspace />;
}

import { DossierPage } from '@/ui/estate/DossierPage';

export const metadata = { title: 'Dossier' };

export default async function DevicePage({ params }: { params: Promise<{ id: string }> }) {
  return <DossierPage id={(await params).id} />;
}

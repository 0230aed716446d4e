import { MapWorkspace } from '@/ui/map/MapWorkspace';

export const metadata = { title: 'Map' };

export default function MapPage() {
  return <MapWorkspace />;
}

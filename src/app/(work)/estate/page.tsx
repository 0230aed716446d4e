import { EstateWorkspace } from '@/ui/estate/EstateWorkspace';

export const metadata = { title: 'Estate' };

export default function EstatePage() {
  return <EstateWorkspace />;
}

import { PortsWorkspace } from '@/ui/ports/PortsWorkspace';

export const metadata = { title: 'Ports' };

export default function PortsPage() {
  return <PortsWorkspace />;
}

import { FirmwareWorkspace } from '@/ui/firmware/FirmwareWorkspace';

export const metadata = { title: 'Firmware' };

export default function FirmwarePage() {
  return <FirmwareWorkspace />;
}

import { route } from '@/server/access/route';
import { openApi } from '@/server/openApi';

export const GET = route('anyone', null, () => openApi());

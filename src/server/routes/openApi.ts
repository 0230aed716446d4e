import { route } from '../access/route';
import { openApi } from '../openApi';

export const GET = route('anyone', null, () => openApi());

import { version } from '@/package.json';
import { openApi } from '@/stations/api/openapi';

export const GET = () => Response.json(openApi(version));

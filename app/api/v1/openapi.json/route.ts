import { version } from '@/package.json';
import { openApi } from '@/http/api/openapi';

export const GET = () => Response.json(openApi(version));

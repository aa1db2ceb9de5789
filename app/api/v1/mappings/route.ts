import { respond } from '@/http/api/respond';
import { listMappings } from '@/http/api/runs';

export const GET = () => respond(listMappings);

import { respond } from '@/http/api/respond';
import { keepRun } from '@/http/api/runs';

export const POST = (request: Request) => respond(() => keepRun(request), 201);

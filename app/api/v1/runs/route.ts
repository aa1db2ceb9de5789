import { respond } from '@/stations/api/respond';
import { keepRun } from '@/stations/api/runs';

export const POST = (request: Request) => respond(() => keepRun(request), 201);

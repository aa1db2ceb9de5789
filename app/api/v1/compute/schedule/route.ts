import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { computeSchedule } from '@/http/api/schedule';
import { scheduleRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeSchedule(scheduleRequest.parse(await readJson(request, mostJsonBytes)), request.signal));

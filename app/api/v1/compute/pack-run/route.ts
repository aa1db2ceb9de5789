import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { computePackRun } from '@/http/api/packRun';
import { respond } from '@/http/api/respond';
import { packRunRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computePackRun(packRunRequest.parse(await readJson(request, mostJsonBytes)), request.signal));

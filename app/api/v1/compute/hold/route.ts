import { computeHold } from '@/http/api/hold';
import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { holdRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeHold(holdRequest.parse(await readJson(request, mostJsonBytes))));

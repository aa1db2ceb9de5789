import { computeMatch } from '@/http/api/compute';
import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { matchRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeMatch(matchRequest.parse(await readJson(request, mostJsonBytes)), request.signal));

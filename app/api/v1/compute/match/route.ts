import { computeMatch } from '@/stations/api/compute';
import { mostJsonBytes, readJson } from '@/stations/api/jsonBody';
import { respond } from '@/stations/api/respond';
import { matchRequest } from '@/stations/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeMatch(matchRequest.parse(await readJson(request, mostJsonBytes)), request.signal));

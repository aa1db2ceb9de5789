import { computePartialCapacity } from '@/http/api/compute';
import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { partialCapacityRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computePartialCapacity(partialCapacityRequest.parse(await readJson(request, mostJsonBytes))));

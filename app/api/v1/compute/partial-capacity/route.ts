import { computePartialCapacity } from '@/stations/api/compute';
import { mostJsonBytes, readJson } from '@/stations/api/jsonBody';
import { respond } from '@/stations/api/respond';
import { partialCapacityRequest } from '@/stations/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computePartialCapacity(partialCapacityRequest.parse(await readJson(request, mostJsonBytes))));

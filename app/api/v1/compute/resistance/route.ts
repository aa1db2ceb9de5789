import { computeResistance } from '@/stations/api/compute';
import { mostJsonBytes, readJson } from '@/stations/api/jsonBody';
import { respond } from '@/stations/api/respond';
import { resistanceRequest } from '@/stations/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeResistance(resistanceRequest.parse(await readJson(request, mostJsonBytes))));

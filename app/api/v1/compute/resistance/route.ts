import { computeResistance } from '@/http/api/compute';
import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { resistanceRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeResistance(resistanceRequest.parse(await readJson(request, mostJsonBytes))));

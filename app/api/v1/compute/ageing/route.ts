import { computeAgeing } from '@/http/api/ageing';
import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { ageingRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeAgeing(ageingRequest.parse(await readJson(request, mostJsonBytes))));

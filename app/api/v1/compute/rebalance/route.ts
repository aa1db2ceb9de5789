import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { computeRemedies } from '@/http/api/rebalance';
import { respond } from '@/http/api/respond';
import { rebalanceRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeRemedies(rebalanceRequest.parse(await readJson(request, mostJsonBytes)), request.signal));

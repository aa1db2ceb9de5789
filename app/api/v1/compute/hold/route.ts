import { computeSelfDischarge } from '@/http/api/selfDischarge';
import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { selfDischargeRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeSelfDischarge(selfDischargeRequest.parse(await readJson(request, mostJsonBytes))));

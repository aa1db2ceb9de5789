import { computeDiagnosis } from '@/http/api/diagnose';
import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { diagnoseRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () => computeDiagnosis(diagnoseRequest.parse(await readJson(request, mostJsonBytes))));

import { computeChargerSheet } from '@/http/api/chargerSheet';
import { mostJsonBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { chargerSheetRequest } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () =>
    computeChargerSheet(chargerSheetRequest.parse(await readJson(request, mostJsonBytes)), request.signal),
  );

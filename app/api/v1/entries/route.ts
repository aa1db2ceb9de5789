import { entryOf, filedOrRefused } from '@/http/api/entries';
import { respond } from '@/http/api/respond';
import { fileLine } from '@/stations/fileLine';

export const POST = (request: Request) =>
  respond(async () => {
    const entry = await entryOf(request);
    return filedOrRefused(entry.entry, await fileLine(entry));
  }, 201);

import { begunOrRefused, holds, newHoldOf } from '@/http/api/holds';
import { respond } from '@/http/api/respond';
import { beginHoldOf } from '@/stations/selfDischarge/beginHoldOf';

export const GET = () => respond(holds);

export const POST = (request: Request) =>
  respond(async () => {
    const { codes, days } = await newHoldOf(request);
    return begunOrRefused(await beginHoldOf(codes, days));
  }, 201);

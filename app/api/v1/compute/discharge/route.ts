import { computeDischarge } from '@/stations/api/compute';
import { respond } from '@/stations/api/respond';
import { dischargeQuery } from '@/stations/api/schemas';

export const POST = (request: Request) =>
  respond(async () =>
    computeDischarge(dischargeQuery.parse(Object.fromEntries(new URL(request.url).searchParams)), request),
  );

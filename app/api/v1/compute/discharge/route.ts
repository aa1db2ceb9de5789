import { computeDischarge } from '@/http/api/compute';
import { respond } from '@/http/api/respond';
import { dischargeQuery } from '@/http/api/schemas';

export const POST = (request: Request) =>
  respond(async () =>
    computeDischarge(dischargeQuery.parse(Object.fromEntries(new URL(request.url).searchParams)), request),
  );

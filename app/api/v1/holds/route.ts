import { begunOrRefused, selfDischarges, newSelfDischargeOf } from '@/http/api/selfDischarges';
import { respond } from '@/http/api/respond';
import { beginSelfDischargeOf } from '@/stations/selfDischarge/beginSelfDischargeOf';

export const GET = () => respond(selfDischarges);

export const POST = (request: Request) =>
  respond(async () => {
    const { codes, days } = await newSelfDischargeOf(request);
    return begunOrRefused(await beginSelfDischargeOf(codes, days));
  }, 201);

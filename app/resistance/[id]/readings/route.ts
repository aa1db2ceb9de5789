import { respond } from '@/stations/api/respond';
import { fileReading, readyForReadings } from '@/stations/resistance/fileReading';

type Of = { params: Promise<{ id: string }> };

export const GET = (_: Request, { params }: Of) => respond(async () => readyForReadings(Number((await params).id)));
export const POST = (request: Request, { params }: Of) => respond(async () => fileReading(Number((await params).id), request));

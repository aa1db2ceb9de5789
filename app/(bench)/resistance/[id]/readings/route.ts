import { numberOf } from '@/stations/address';
import { respond } from '@/stations/api/respond';
import { fileReading } from '@/stations/resistance/fileReading';

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => fileReading(numberOf((await params).id), request));

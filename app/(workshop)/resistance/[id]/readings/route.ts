import { mostReadingBytes, readJson } from '@/http/api/jsonBody';
import { respond } from '@/http/api/respond';
import { numberOf } from '@/stations/address';
import { fileReading } from '@/stations/resistance/fileReading';

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => fileReading(numberOf((await params).id), readJson(request, mostReadingBytes)));

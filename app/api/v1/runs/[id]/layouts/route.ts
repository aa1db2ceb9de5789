import { respond } from '@/http/api/respond';
import { layOutRun } from '@/http/api/runs';

export const POST = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => layOutRun((await params).id, request), 201);

import { respond } from '@/http/api/respond';
import { tellRun } from '@/http/api/samples';

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => tellRun((await params).id));

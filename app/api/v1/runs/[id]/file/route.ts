import { arrivedFile } from '@/http/api/runs';
import { respondWith } from '@/http/api/respond';

export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respondWith(async () => arrivedFile((await params).id));

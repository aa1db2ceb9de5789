import { respondWith } from '@/http/api/respond';
import { tellSamples } from '@/http/api/samples';

export const GET = (request: Request, { params }: { params: Promise<{ id: string }> }) =>
  respondWith(async () => tellSamples((await params).id, request));

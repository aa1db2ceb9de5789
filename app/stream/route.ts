import { streamChanges } from '@/http/streamChanges';

export const dynamic = 'force-dynamic';
export const GET = (request: Request): Response => streamChanges(request.signal);

import { events } from '@/http/api/events';

export const dynamic = 'force-dynamic';
export const GET = (request: Request): Response => events(request.signal);

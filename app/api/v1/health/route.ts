import { health } from '@/http/api/health';

export const dynamic = 'force-dynamic';
export const GET = health;

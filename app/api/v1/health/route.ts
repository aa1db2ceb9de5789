import { health } from '@/stations/api/health';

export const dynamic = 'force-dynamic';
export const GET = health;

import { start } from '@/stations/frame/start';

export const dynamic = 'force-dynamic';
export const GET = start;

import { secretCalendar } from '@/http/api/calendar';
import { respondWith } from '@/http/api/respond';

export const GET = (_: Request, { params }: { params: Promise<{ file: string }> }) =>
  respondWith(async () => secretCalendar((await params).file));

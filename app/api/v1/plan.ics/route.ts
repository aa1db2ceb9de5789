import { planCalendar } from '@/http/api/calendar';
import { respondWith } from '@/http/api/respond';

export const GET = () => respondWith(planCalendar);

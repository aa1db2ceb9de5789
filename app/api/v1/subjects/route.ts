import { respond } from '@/http/api/respond';
import { subjects } from '@/http/api/subjects';

export const GET = (request: Request) => respond(() => subjects(request));

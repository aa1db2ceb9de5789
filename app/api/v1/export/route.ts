import { exportAll } from '@/http/api/exportAll';
import { respondWith } from '@/http/api/respond';

export const GET = () => respondWith(async () => exportAll());

import { AccessPage } from '@/stations/access/AccessPage';

export const metadata = { title: 'Access' };
export default AccessPage;

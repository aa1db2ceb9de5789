import { BuildsPage } from '@/stations/builds/BuildsPage';

export const metadata = { title: 'Builds' };
export default BuildsPage;

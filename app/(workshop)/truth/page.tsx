import { TruthPage } from '@/stations/truth/TruthPage';

export const metadata = { title: 'Are the figures true?' };
export default TruthPage;

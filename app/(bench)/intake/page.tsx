import { IntakePage } from '@/stations/intake/IntakePage';

export const metadata = { title: 'Intake' };
export default IntakePage;

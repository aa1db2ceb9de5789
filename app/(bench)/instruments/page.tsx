import { InstrumentsPage } from '@/stations/instruments/InstrumentsPage';

export const metadata = { title: 'Instruments' };
export default InstrumentsPage;

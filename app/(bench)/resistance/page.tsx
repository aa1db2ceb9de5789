import { ResistancePage } from '@/stations/resistance/ResistancePage';

export const metadata = { title: 'Resistance' };
export default ResistancePage;

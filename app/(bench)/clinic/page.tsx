import { ClinicPage } from '@/stations/clinic/ClinicPage';

export const metadata = { title: 'Clinic' };
export default ClinicPage;

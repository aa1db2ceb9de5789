import { ProtocolsPage } from '@/stations/resistance/ProtocolsPage';

export const metadata = { title: 'Protocols' };
export default ProtocolsPage;

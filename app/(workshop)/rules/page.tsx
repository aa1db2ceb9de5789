import { RulesPage } from '@/stations/rules/RulesPage';

export const metadata = { title: 'House rules' };
export default RulesPage;

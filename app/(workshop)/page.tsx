import { StartPage } from '@/stations/frame/StartPage';

export default StartPage;

import { NotebookPage } from '@/stations/intake/NotebookPage';

export const metadata = { title: 'Bring your notebook' };

export default function Page() {
  return <NotebookPage />;
}

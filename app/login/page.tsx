import { type LoginParameters, LoginPage } from '@/stations/access/LoginPage';

export const metadata = { title: 'Come in' };

export default async function Page({ searchParams }: { searchParams: Promise<LoginParameters> }) {
  return <LoginPage {...await searchParams} />;
}

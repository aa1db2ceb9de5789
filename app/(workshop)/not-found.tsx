import { Link } from '@/ui/Link';

export default function NotFound() {
  return (
    <div className="sheet empty">
      <h1>Nothing here by that name</h1>
      <p>Codes look like S1-014 for a cell and PF1 for a pack.</p>
      <Link href="/shelf">To the shelf</Link>
    </div>
  );
}

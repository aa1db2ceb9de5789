import { notFound } from 'next/navigation';

/** Any other address, within the frame. */
export default function Nowhere() {
  notFound();
}

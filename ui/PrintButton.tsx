'use client';

import { Printer } from 'lucide-react';
import Button from 'react-bootstrap/Button';

export function PrintButton() {
  return (
    <Button variant="plain" onClick={() => window.print()}>
      <Printer size={16} aria-hidden /> Print
    </Button>
  );
}

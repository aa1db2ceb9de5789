'use client';

import { useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';

/** Voids a fact with a reason: it stays stored, and counts no more. */
export function VoidForm({ what, note, action }: { what: string; note: string; action(reason: string): Promise<void> }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const [pending, start] = useTransition();
  if (!open) {
    return (
      <Button variant="quiet" onClick={() => setOpen(true)}>
        Void {what} …
      </Button>
    );
  }
  return (
    <form
      className="sheet"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim() !== '') start(() => action(reason.trim()));
      }}
    >
      <Form.Label htmlFor="void-reason">Why is {what} void?</Form.Label>
      <div className="d-flex gap-2">
        <Form.Control id="void-reason" autoFocus value={reason} maxLength={200} onChange={(event) => setReason(event.target.value)} />
        <Button type="submit" variant="plain" disabled={pending || reason.trim() === ''}>
          Void
        </Button>
        <Button variant="quiet" onClick={() => setOpen(false)}>
          Keep
        </Button>
      </div>
      <Form.Text>{note}</Form.Text>
    </form>
  );
}

'use client';

import { useId, useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';

interface VoidFormProps {
  what: string;
  /** What is done to it; left out, it is voided. */
  verb?: string;
  question?: string;
  note: string;
  /** In a list: what it is, is shown beside it. */
  brief?: boolean;
  /** Answers why it cannot be done, if it cannot. */
  action(reason: string): Promise<void> | Promise<string | undefined>;
}

/** Voids a fact with a reason: it stays stored, and counts no more. */
export function VoidForm({
  what,
  verb = 'Void',
  question = `Why is ${what} void?`,
  note,
  brief = false,
  action,
}: VoidFormProps) {
  const id = useId();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const [refused, setRefused] = useState<string | null>(null);
  const [pending, start] = useTransition();
  if (!open) {
    return (
      <Button variant="quiet" className="text-nowrap" aria-label={`${verb} ${what} …`} onClick={() => setOpen(true)}>
        {verb} {brief ? '' : `${what} `}…
      </Button>
    );
  }
  return (
    <form
      className="sheet"
      onSubmit={(event) => {
        event.preventDefault();
        if (reason.trim() !== '') start(async () => setRefused((await action(reason.trim())) ?? null));
      }}
    >
      <Form.Label htmlFor={id}>{question}</Form.Label>
      <div className="d-flex gap-2">
        <Form.Control
          id={id}
          autoFocus
          value={reason}
          maxLength={200}
          onChange={(event) => setReason(event.target.value)}
        />
        <Button type="submit" variant="plain" disabled={pending || reason.trim() === ''}>
          {verb}
        </Button>
        <Button variant="quiet" onClick={() => setOpen(false)}>
          Keep
        </Button>
      </div>
      {refused && (
        <p className="hot mb-0" role="alert">
          {refused}
        </p>
      )}
      <Form.Text>{note}</Form.Text>
    </form>
  );
}

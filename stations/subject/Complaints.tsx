'use client';

import { answersTo, blamedBy, type Complaint, type ComplaintAnswer, complaints } from '@/core/packs/complaints';
import { blamedText, complaintAnswerText, complaintText } from '@/words/complaints';
import { type KeyboardEvent, useRef, useState, useTransition } from 'react';
import { When } from '@/ui/When';
import Button from 'react-bootstrap/Button';
import { noteComplaintAction } from '../clinic/complaintActions';

interface ComplaintsProps {
  code: string;
  /** What fresh readings already answer, and when they were taken. */
  answered: Partial<Record<Complaint, ComplaintAnswer>>;
  readAt: number | null;
}

/** What a charger, tool or appliance said of a pack: its few causes, the one test that separates them, what follows. */
export function Complaints({ code, answered, readAt }: ComplaintsProps) {
  const [said, setSaid] = useState<Complaint | null>(null);
  const [answer, setAnswer] = useState<ComplaintAnswer | null>(null);
  const [refused, setRefused] = useState('');
  const [pending, start] = useTransition();
  const choices: readonly (Complaint | ComplaintAnswer)[] = said ? answersTo(said) : complaints;

  const answerWith = (complaint: Complaint, chosen: ComplaintAnswer): void => {
    start(async () => {
      const noted = await noteComplaintAction(code, complaint, chosen);
      setRefused(noted.ok ? '' : noted.said);
      if (noted.ok) setAnswer(chosen);
    });
  };
  const choose = (i: number): void => {
    const chosen = choices[i];
    if (chosen === undefined || answer !== null) return;
    if (said) {
      answerWith(said, chosen as ComplaintAnswer);
      return;
    }
    const complaint = chosen as Complaint;
    setSaid(complaint);
    const known = answered[complaint];
    if (known) answerWith(complaint, known);
  };
  // The keys belong to this part while it has the focus; else they are typed into the bar.
  const own = useRef<HTMLDivElement>(null);
  const byKey = (event: KeyboardEvent): void => {
    if (event.altKey || event.ctrlKey || event.metaKey || !/^[1-9]$/.test(event.key)) return;
    event.preventDefault();
    choose(Number(event.key) - 1);
    own.current?.focus();
  };
  const blamed = said && answer && blamedBy(said, answer);
  const startOver = () => {
    setSaid(null);
    setAnswer(null);
  };
  return (
    <details className="mb-3" onToggle={(event) => event.currentTarget.open && own.current?.focus()}>
      <summary>A charger, tool or appliance complains of it</summary>
      <div
        ref={own}
        className="sheet mt-2"
        role="group"
        aria-label="Complaint"
        tabIndex={-1}
        style={{ outline: 'none' }}
        onKeyDown={byKey}
      >
        {said === null && <p className="mb-2">What did it say or do?</p>}
        {said !== null && (
          <>
            <p className="mb-1">
              <b>It says: {complaintText(said).name}.</b> {complaintText(said).causes}
            </p>
            {blamed ? (
              <p className="ask">
                {answered[said] === answer && readAt !== null ? (
                  <>
                    The readings of <When at={readAt} as="d MMM HH:mm" /> answer it:{' '}
                  </>
                ) : (
                  `${complaintText(said).test} `
                )}
                {answer && complaintAnswerText(answer)}. <b>{blamedText(blamed)}</b>
              </p>
            ) : (
              <p className="ask mb-2">One test decides: {complaintText(said).test}</p>
            )}
          </>
        )}
        <div className="d-flex flex-wrap gap-2">
          {answer === null &&
            choices.map((choice, i) => (
              <Button key={choice} variant="plain" disabled={pending} onClick={() => choose(i)}>
                <kbd>{i + 1}</kbd>{' '}
                {said ? complaintAnswerText(choice as ComplaintAnswer) : complaintText(choice as Complaint).name}
              </Button>
            ))}
          {said !== null && (
            <Button variant="quiet" onClick={startOver}>
              {answer === null ? 'Another complaint' : 'One more'}
            </Button>
          )}
        </div>
        {refused !== '' && (
          <p className="hot mb-0" role="alert">
            ◆ {refused}
          </p>
        )}
      </div>
    </details>
  );
}

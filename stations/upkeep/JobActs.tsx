'use client';

import type { Answer } from '@/stations/answer';
import { useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { useHotkeys } from 'react-hotkeys-hook';
import { beginJobAction, endJobAction, replanAction, unbeginJobAction } from './planActions';

/** Beginning a job where it is planned, saying that it is done, or that it was not begun after all. */
export function JobActs({ id, name, isBegun, hot }: { id: string; name: string; isBegun: boolean; hot: boolean }) {
  const [pending, start] = useTransition();
  const [said, setSaid] = useState('');
  const act = (does: (id: string) => Promise<Answer>) =>
    start(async () => {
      const answer = await does(id);
      setSaid(answer.ok ? '' : answer.said);
    });
  const does = isBegun ? 'Done' : 'Begin';
  return (
    <>
      <Button
        variant={hot ? 'ember' : 'plain'}
        size="sm"
        disabled={pending}
        aria-label={`${does}: ${name}`}
        onClick={() => act(isBegun ? endJobAction : beginJobAction)}
      >
        {does}
      </Button>
      {isBegun && (
        <Button
          variant="quiet"
          size="sm"
          disabled={pending}
          aria-label={`Not begun: ${name}`}
          onClick={() => act(unbeginJobAction)}
        >
          Not begun
        </Button>
      )}
      {said && (
        <p className="hot mb-0" role="alert">
          ◆ {said}
        </p>
      )}
    </>
  );
}

/** Replans from now, by one key. */
export function ReplanButton({ isWanted }: { isWanted: boolean }) {
  const [pending, start] = useTransition();
  const replan = () => start(replanAction);
  useHotkeys('alt+n', replan, { enableOnFormTags: true, preventDefault: true });
  return (
    <Button variant={isWanted ? 'ember' : 'plain'} disabled={pending} onClick={replan}>
      {pending ? 'Planning …' : 'Replan from now'} <kbd>Alt N</kbd>
    </Button>
  );
}

'use client';

import type { JudgedRescue } from '@/core/judging/rescue';
import { display, formatDuration, formatFigure } from '@/core/quantity/format';
import { useFollowing } from '@/stations/frame/stream';
import { AsTable } from '@/ui/AsTable';
import { useSound } from '@/ui/sound';
import { useClock } from '@/ui/useClock';
import { When } from '@/ui/When';
import { rescueStaysText, rescueStopText } from '@/words/rescue';
import { useEffect, useEffectEvent, useState, useTransition } from 'react';
import Button from 'react-bootstrap/Button';
import { rescueAct } from './actions';

interface RescueGuideProps {
  rescue: JudgedRescue;
  handOverV: number;
  /** Of the proper charge that follows, A. */
  chargeA: number;
}

/** A rescue under way: what is to be done now is the largest, and STOP is larger still. */
export function RescueGuide({ rescue, handOverV, chargeA }: RescueGuideProps) {
  const now = useClock(useFollowing().aheadMs);
  // The clock alone stops it too, whether or not the server is there to say so.
  const isMissed = now !== null && rescue.missedAt !== null && now >= rescue.missedAt.getTime();
  const stop = rescue.stop ?? (isMissed ? ({ code: 'missed', position: null } as const) : null);
  return (
    <>
      <section className={`sheet mb-3 ${stop && rescue.phase === 'on' ? 'halt' : 'lead-ember'}`} aria-label="Now">
        <Now rescue={rescue} stop={stop} now={now} handOverV={handOverV} chargeA={chargeA} />
      </section>
      <Groups rescue={rescue} handOverV={handOverV} stopAt={stop?.position ?? null} />
    </>
  );
}

interface NowProps extends RescueGuideProps {
  stop: JudgedRescue['stop'];
  now: number | null;
}

function Now({ rescue, stop, now, handOverV, chargeA }: NowProps) {
  const { code, phase, isReached, readBy, stays } = rescue;
  if (phase === 'off')
    return (
      <>
        <p className="now">Current is off</p>
        {stop && <p>{rescueStopText(stop.code, stop.position)}</p>}
        {stays && <p className="ask">{rescueStaysText(stays)}</p>}
        <div className="d-flex gap-2 flex-wrap">
          {stays === null && <Act code={code} act="on" label="Current is on again" isMain />}
          <Act
            code={code}
            act="end"
            label="Give it up"
            isMain={stays === 'groups-disagree' || stays === 'time-is-up'}
          />
        </div>
      </>
    );
  if (stop)
    return (
      <>
        <Alarm of={`${code} ${stop.code}`} />
        <p className="now" role="alert">
          STOP
        </p>
        <p style={{ fontSize: '1.3rem', fontWeight: 700 }}>
          {rescueStopText(stop.code, stop.position)} Switch the current off now.
        </p>
        <Act code={code} act="off" label="Current is off" isMain />
      </>
    );
  if (isReached)
    return (
      <>
        <p className="now">Take the current off</p>
        <p>
          Every group is at {handOverV.toFixed(1)} V: it goes to the proper mode now, balance lead in, at about{' '}
          {formatFigure(chargeA, display.current, 1)}.
        </p>
        <Act code={code} act="end" label="It is off: hand it over" isMain />
      </>
    );
  const leftMs = readBy && now !== null ? readBy.getTime() - now : null;
  return (
    <>
      <p className="now num">
        {leftMs === null && 'Read every group'}
        {leftMs !== null && leftMs <= 0 && 'Measure every group now'}
        {leftMs !== null && leftMs > 0 && `Measure again in ${formatDuration(leftMs / 1000).replace(/^0:/, '')}`}
      </p>
      <p>
        {formatFigure(rescue.currentA, display.current)}, on for {Math.round(rescue.onS / 60)} min. Stay with it; feel
        it at every reading. Type the groups below.
      </p>
      <Act code={code} act="off" label="Stop: the current is off" />
    </>
  );
}

/** Sounds once for each reason to stop, whether sound is on or not. */
function Alarm({ of }: { of: string }) {
  const { play } = useSound();
  const sound = useEffectEvent(() => play('stop'));
  useEffect(() => sound(), [of]);
  return null;
}

function Act({
  code,
  act,
  label,
  isMain = false,
}: {
  code: string;
  act: 'off' | 'on' | 'end';
  label: string;
  isMain?: boolean;
}) {
  const [pending, start] = useTransition();
  const [said, setSaid] = useState('');
  return (
    <>
      <Button
        variant={isMain ? 'ember' : 'plain'}
        disabled={pending}
        onClick={() =>
          start(async () => {
            const answer = await rescueAct(code, act);
            setSaid(answer.ok ? '' : answer.said);
          })
        }
      >
        {label}
      </Button>
      {said !== '' && <span role="status">{said}</span>}
    </>
  );
}

/** How far every group has risen, and all that was read. */
function Groups({ rescue, handOverV, stopAt }: { rescue: JudgedRescue; handOverV: number; stopAt: number | null }) {
  const { readings, series } = rescue;
  const [first, newest] = [readings[0], readings.at(-1)];
  if (!first || !newest) return null;
  const from = Math.min(...first.voltagesV, ...newest.voltagesV) - 0.05;
  const fraction = (v: number): number => Math.min(1, Math.max(0, (v - from) / (handOverV - from)));
  return (
    <section className="sheet" aria-label="Groups">
      <h2>
        Groups at <When at={newest.takenAt} as="HH:mm" />, on the way to {handOverV.toFixed(1)} V
      </h2>
      <ol className="rising" aria-label="Groups from the negative terminal">
        {newest.voltagesV.map((v, i) => (
          <li key={i} className={stopAt === i + 1 ? 'hot' : ''}>
            <span className="num">{series === 1 ? 'cell' : i + 1}</span>
            <span className="track" aria-hidden>
              <span className="began" style={{ left: `${fraction(first.voltagesV[i] ?? v) * 100}%` }} />
              <span className="reached" style={{ width: `${fraction(v) * 100}%` }} />
            </span>
            <span className="num">
              {stopAt === i + 1 && '◆ '}
              {v.toFixed(2)} V
            </span>
            <span className="num soft">
              {v >= (first.voltagesV[i] ?? v) ? '+' : '−'}
              {Math.abs(v - (first.voltagesV[i] ?? v)).toFixed(2)}
            </span>
          </li>
        ))}
      </ol>
      <AsTable
        columns={['Read', ...newest.voltagesV.map((_, i) => String(i + 1)), '°C', 'hand']}
        rows={readings.toReversed().map(({ entry, takenAt, voltagesV, skinC, isWarm }) => ({
          key: `${entry} ${takenAt.getTime()}`,
          odd: false,
          cells: [
            <When key="at" at={takenAt} as="HH:mm" />,
            ...voltagesV.map((v) => v.toFixed(2)),
            skinC === null ? '–' : String(skinC),
            isWarm ? 'warm' : '–',
          ],
        }))}
      />
    </section>
  );
}

'use client';

import { store, useStored } from './stored';

/** What the bench hears: filed, odd, look here, or stop at once. */
export type Signal = 'filed' | 'odd' | 'look' | 'stop';

/** Tones by signal: [hertz, begins at second, lasts seconds]. They differ by number and height, not by loudness. */
const tones: Record<Signal, [number, number, number][]> = {
  filed: [[1320, 0, 0.07]],
  odd: [
    [880, 0, 0.09],
    [880, 0.14, 0.09],
  ],
  look: [
    [520, 0, 0.16],
    [390, 0.18, 0.26],
  ],
  stop: [0, 0.35, 0.7, 1.05].map((begin) => [980, begin, 0.22]),
};

const key = 'bold-ember-sound';
let context: AudioContext | null = null;

function sound(signal: Signal): void {
  context ??= new AudioContext();
  for (const [hertz, begin, length] of tones[signal]) {
    const at = context.currentTime + begin;
    const tone = context.createOscillator();
    const level = context.createGain();
    tone.frequency.value = hertz;
    level.gain.setValueAtTime(0.0001, at);
    level.gain.exponentialRampToValueAtTime(0.25, at + 0.01);
    level.gain.exponentialRampToValueAtTime(0.0001, at + length);
    tone.connect(level).connect(context.destination);
    tone.start(at);
    tone.stop(at + length);
  }
}

/** The audible answer of the reading bar; off until someone turns it on, kept in this browser. */
export function useSound() {
  const on = useStored(key) === 'on';
  return {
    on,
    toggle: () => {
      store(key, on ? null : 'on');
      if (!on) sound('filed');
    },
    play: (signal: Signal) => {
      document.documentElement.dataset.signal = signal;
      // Where a person can be hurt it is heard in any case.
      if (on || signal === 'stop') sound(signal);
    },
  };
}

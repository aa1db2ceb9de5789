import {
  createDischargeMeter,
  type Discharge,
  type DischargeMeter,
  type DischargeSettings,
} from '@/core/capacity/discharge';
import type { Sample } from '@/core/capacity/logReader';
import { numberOrNull } from '@/records/samples';
import { join } from 'node:path';
import { MessageChannel, Worker } from 'node:worker_threads';
import { type Outcome, revived, threadLimits } from './threads';

/** What the thread of a meter is asked. */
export type MeterMessage =
  | { kind: 'begin'; settings: DischargeSettings }
  | PackedSamples
  | { kind: 'finish'; voltageStepV: number; currentStepA: number | null };

/** Samples as numbers alone, which change threads without being copied: of the whole, then of each group. */
export interface PackedSamples {
  kind: 'samples';
  numbers: Float64Array;
  count: number;
  series: number;
}

/** This many samples go over at once, and this many of these may be on their way. */
const samplesAtOnce = 4096;
const mostAhead = 8;
/** Time, voltage, current, cycle and step. */
const ofWhole = 5;

/** Hands over the samples in order. */
export function unpack({ numbers, count, series }: PackedSamples, visit: (sample: Sample) => void): void {
  for (let i = 0, at = 0; i < count; i++, at += ofWhole + series) {
    visit({
      timeS: numbers[at] as number,
      voltageV: numbers[at + 1] as number,
      currentA: numberOrNull(numbers[at + 2]),
      temperatureC: null,
      groupsV: series === 0 ? null : Array.from(numbers.subarray(at + ofWhole, at + ofWhole + series)),
      cycle: numberOrNull(numbers[at + 3]),
      step: numberOrNull(numbers[at + 4]),
    });
  }
}

/** Meters the samples of a log as they are read. */
export interface LogMeter {
  push(sample: Sample): void;
  /** Waits until more may be pushed. */
  ready(): Promise<void>;
  finish(...steps: Parameters<DischargeMeter['finish']>): Promise<Discharge>;
  /** It is not asked any more, whatever became of it. */
  end(): void;
}

/** Where a log is short, beside is further away. */
export function meterHere(settings: DischargeSettings): LogMeter {
  const meter = createDischargeMeter(settings);
  return { push: meter.push, ready: async () => {}, finish: async (...steps) => meter.finish(...steps), end: () => {} };
}

let thread: Worker | null = null;
function threadOf(): Worker {
  if (thread) return thread;
  const program = join(process.cwd(), 'workshop', 'meter.cjs');
  const begun = new Worker(program, { execArgv: [], resourceLimits: threadLimits });
  begun.unref();
  const forget = () => {
    if (thread === begun) thread = null;
  };
  begun.once('error', forget);
  begun.once('exit', forget);
  return (thread = begun);
}

/** Meters on a thread of its own: while one portion of a long log is metered, the next is read. */
export function meterBeside(settings: DischargeSettings): LogMeter {
  const { port1: port, port2 } = new MessageChannel();
  let ahead = 0;
  let series = 0;
  let numbers = new Float64Array();
  let held = 0;
  let lastOutcome: Outcome<Discharge | null> | null = null;
  let isClosed = false;
  let wake: () => void = () => {};
  port.on('message', (outcome: typeof lastOutcome) => {
    ahead -= 1;
    // The first failure says what was wrong; those behind it follow from it.
    if (lastOutcome?.ok !== false) lastOutcome = outcome;
    wake();
  });
  port.on('close', () => {
    isClosed = true;
    wake();
  });
  const ask = (asked: MeterMessage, moved: ArrayBuffer[] = []): void => {
    ahead += 1;
    port.postMessage(asked, moved);
  };
  const fewerThan = async (most: number): Promise<void> => {
    while (ahead >= most && !isClosed) await new Promise<void>((resolve) => (wake = resolve));
    if (isClosed) throw new Error('The thread that meters a log has ended.');
    if (lastOutcome?.ok === false) revived(lastOutcome);
  };
  const sendHeld = (): void => {
    if (held > 0) ask({ kind: 'samples', numbers, count: held, series }, [numbers.buffer]);
    [numbers, held] = [new Float64Array((ofWhole + series) * samplesAtOnce), 0];
  };

  threadOf().postMessage({ port: port2 }, [port2]);
  ask({ kind: 'begin', settings });
  return {
    push({ timeS, voltageV, currentA, groupsV, cycle, step }) {
      if (numbers.length === 0) {
        series = groupsV?.length ?? 0;
        sendHeld();
      }
      const at = (ofWhole + series) * held;
      numbers[at] = timeS;
      numbers[at + 1] = voltageV;
      numbers[at + 2] = currentA ?? NaN;
      numbers[at + 3] = cycle ?? NaN;
      numbers[at + 4] = step ?? NaN;
      for (let group = 0; group < series; group++) numbers[at + ofWhole + group] = groupsV?.[group] ?? NaN;
      held += 1;
      if (held === samplesAtOnce) sendHeld();
    },
    ready: () => fewerThan(mostAhead),
    async finish(voltageStepV, currentStepA = null) {
      sendHeld();
      ask({ kind: 'finish', voltageStepV, currentStepA });
      await fewerThan(1);
      const result = lastOutcome && revived(lastOutcome);
      if (!result) throw new Error('The thread that meters a log did not answer.');
      return result;
    },
    end: () => port.close(),
  };
}

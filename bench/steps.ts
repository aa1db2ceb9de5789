import { createCsvLog } from '@/core/capacity/csvLog';
import { createPulseFinder } from '@/core/resistance/pulses';
import { type BenchRow, medianOf, seconds } from './table';

const samples = 1_000_000;
const repeats = 3;

/** A log of a million samples, ten a second, with a pulse of half a minute every other one, as CSV in portions. */
function pulsedLog(): string[] {
  const portions: string[] = [];
  let lines = 'Time (s),Voltage (V),Current (A)\n';
  for (let i = 0; i < samples; i++) {
    const t = i / 10;
    const since = t % 60;
    const on = since >= 30;
    const slow = on ? 0.03 * (1 - Math.exp(-(since - 30) / 8)) : 0.03 * Math.exp(-since / 8);
    const volts = 4.1 - t / 120_000 - (on ? 0.06 : 0) - slow + ((i * 7) % 5) / 5000;
    lines += `${t.toFixed(1)},${volts.toFixed(4)},${on ? '2.000' : '0.000'}\n`;
    if (lines.length > 1 << 16) {
      portions.push(lines);
      lines = '';
    }
  }
  return [...portions, lines];
}

/** Finding and fitting the steps of a million-sample log, against parsing the same log alone. */
export function benchSteps(): BenchRow[] {
  const text = pulsedLog();
  const run = (withSteps: boolean): { ms: number; edges: number; fitted: number } => {
    const began = performance.now();
    const finder = createPulseFinder();
    const log = createCsvLog((sample) => withSteps && finder.push(sample.timeS, sample.voltageV, sample.currentA ?? 0));
    text.forEach(log.push);
    log.finish();
    const edges = finder.finish({
      way: 1,
      voltageDigitV: 0.0001,
      voltageRelativeU: 0,
      currentRelativeU: 0.005,
      currentDigitA: 0.001,
    });
    return {
      ms: performance.now() - began,
      edges: edges.length,
      fitted: edges.filter((edge) => edge.relaxation).length,
    };
  };
  const [parsing, both] = [[], []] as [number[], number[]];
  let found = { edges: 0, fitted: 0 };
  for (let n = 0; n < repeats; n++) {
    parsing.push(run(false).ms);
    const whole = run(true);
    both.push(whole.ms);
    found = whole;
  }
  const own = medianOf(both) - medianOf(parsing);
  return [
    {
      what:
        `steps of a log of ${samples.toLocaleString('en')} samples: ${found.edges} found, ${found.fitted} fitted ` +
        '(limit 3 × parsing)',
      ours: seconds(own),
      reference: `parsing it ${seconds(medianOf(parsing))}`,
      ratio: (own / medianOf(parsing)).toFixed(2),
    },
  ];
}

import { differenceFrom } from '../instruments/consensus';
import { limitOf, readingU, shownU } from '../instruments/instrument';
import { leadPairOhm, wireAreaMm2, wireOhm } from '../instruments/leads';
import { guarded } from '../grading/duty';
import { propagate, quadrature, rectangular } from '../quantity/quantity';
import { fewTimes, populationOf } from '../statistics/population';
import { misread } from '../grading/plausibility';
import { commonPractice, fromMemory, type HandbookEntry, ownRule, published, shown, shownWithU } from './entry';

const gum = (clause: string) => published(`JCGM 100:2008 (GUM), ${clause}`);
const meter = { resolution: 0.001, accuracyShare: 0.005, accuracyCounts: 3 };

export const readings: readonly HandbookEntry[] = [
  {
    key: 'uncertainty',
    topic: 'Readings and uncertainty',
    title: 'Standard uncertainty and the ± of a figure',
    text: [
      'Every measured or computed figure carries a standard uncertainty u: the standard deviation of the values that ' +
        'the reading allows. The ± on a screen is u. In about 95 of 100 cases the true value is within 2 u.',
      'A result combines the uncertainties of its inputs. Independent inputs add as the root of the sum of squares. ' +
        'An input that several results share, such as one meter, does not cancel by averaging.',
    ],
    formulas: [
      {
        tex: String.raw`u(y) = \sqrt{\sum_i \left(\frac{\partial y}{\partial x_i}\,u(x_i)\right)^2}`,
        where: [
          ['y', 'result'],
          ['x_i', 'inputs'],
          ['u', 'standard uncertainty'],
        ],
      },
    ],
    figures: [
      [
        '3.60 ± 0.01 V over 1.20 ± 0.02 A (standard uncertainties)',
        () =>
          shownWithU(
            propagate(({ v, i }) => v / i, { v: { value: 3.6, u: 0.01 }, i: { value: 1.2, u: 0.02 } }),
            'Ω',
          ),
      ],
      ['3 mΩ and 4 mΩ combined', () => shown(quadrature(3, 4), 'mΩ')],
    ],
    sources: [gum('5.1.2 and 6.2')],
    see: ['last-digit', 'instrument-accuracy', 'guard-band'],
  },
  {
    key: 'last-digit',
    topic: 'Readings and uncertainty',
    title: 'Uncertainty of the last digit',
    text: [
      'A display rounds. The true value lies anywhere within one step of the last digit, with equal probability. ' +
        'The standard uncertainty of such a rectangular distribution is the step divided by √12.',
      'A single reading also varies from one touch of the probes to the next. Until you repeat a reading, one ' +
        'digit of noise either way is added.',
    ],
    formulas: [
      {
        tex: String.raw`u = \frac{a}{\sqrt{12}}`,
        where: [['a', 'step of the last digit']],
      },
    ],
    figures: [
      ['Step of 1 mV', () => shown(1000 * rectangular(0.001), 'mV')],
      ['Step of 10 mV', () => shown(1000 * rectangular(0.01), 'mV')],
      ['One reading in steps of 0.1 mΩ, with noise', () => shown(shownU(0.1), 'mΩ')],
    ],
    sources: [gum('4.3.7'), commonPractice('one digit of noise')],
    see: ['uncertainty', 'repeats'],
  },
  {
    key: 'instrument-accuracy',
    topic: 'Readings and uncertainty',
    title: 'Accuracy of an instrument',
    text: [
      'A maker states a maximum permissible error: a percentage of the reading plus a number of counts of the last ' +
        'digit. The true error lies anywhere within it, so the limit is divided by √3. The last digit is added.',
      'An instrument may have several ranges with their own digits and limits. The last digit of a reading shows the ' +
        'range. Where a calibration is in force, its uncertainty replaces the maker’s limit.',
      'Where no accuracy is noted, the values of a cheap instrument are assumed and the instrument is marked: ' +
        '0.5 % for voltage, 1 % for current and 2 % for resistance, each with 3 counts.',
    ],
    formulas: [
      {
        tex: String.raw`E = p\,|x| + n\,a
          \qquad u = \sqrt{\left(\frac{E}{\sqrt{3}}\right)^2 + \left(\frac{a}{\sqrt{12}}\right)^2}`,
        where: [
          ['E', 'maximum permissible error'],
          ['p', 'accuracy as a fraction of the reading'],
          ['x', 'reading'],
          ['n', 'counts'],
          ['a', 'step of the last digit'],
        ],
      },
    ],
    figures: [
      ['Limit at 3.7 V, ± 0.5 % ± 3 counts of 1 mV', () => shown(1000 * limitOf(3.7, meter), 'mV')],
      ['Standard uncertainty of that reading', () => shown(1000 * readingU(3.7, meter), 'mV')],
    ],
    sources: [gum('4.3.7'), fromMemory('the assumed accuracies')],
    see: ['cross-check', 'calibration', 'last-digit'],
  },
  {
    key: 'guard-band',
    topic: 'Readings and uncertainty',
    title: 'A limit and a measured value',
    text: [
      'The true value near a limit can be on either side. A limit counts as met only when the value is above ' +
        'it by k standard uncertainties, and as missed when it is below by as much. Between the two the verdict ' +
        'is open.',
      'With k = 1.64 one of twenty values that just miss the limit is accepted. Where the verdict is open, the lower ' +
        'class applies and the screen names the measurement that would decide.',
    ],
    formulas: [
      {
        tex: String.raw`\text{met: } x - k\,u \ge L \qquad \text{missed: } x + k\,u < L`,
        where: [
          ['x', 'measured value'],
          ['u', 'standard uncertainty'],
          ['L', 'limit'],
          ['k', 'house rule'],
        ],
      },
    ],
    figures: [
      ['0.83 with u 0.01 against 0.80, k 1.64', () => guarded({ value: 0.83, u: 0.01 }, 0.8, 1.64)],
      ['0.81 with u 0.01 against 0.80, k 1.64', () => guarded({ value: 0.81, u: 0.01 }, 0.8, 1.64)],
    ],
    drawing: 'guard-band',
    sources: [published('JCGM 106:2012, 8.3', 'guard bands'), commonPractice('the lower class in doubt')],
    rules: ['guardBand'],
    see: ['duties', 'uncertainty'],
  },
  {
    key: 'outliers',
    topic: 'Readings and uncertainty',
    title: 'Odd one out',
    text: [
      'A cell is an outlier when its value lies too far from the median of its batch. The spread is measured by the ' +
        'median absolute deviation (MAD), which one wild value cannot change. Divided by 0.6745 it estimates the ' +
        'standard deviation.',
      'Few values estimate their own spread badly. The limit is therefore wider for small batches: 1 of 20 batches ' +
        'without an outlier shows one, whatever their size.',
      `Three or four values are compared by ratio instead: an outlier is ${fewTimes} times the median or more. Two ` +
        'values are not compared.',
    ],
    formulas: [
      {
        tex: String.raw`|x - \tilde{x}| > k \cdot \frac{\mathrm{MAD}}{0.6745}`,
        where: [
          [String.raw`\tilde{x}`, 'median of the batch'],
          ['k', 'house rule, widened for small batches'],
        ],
      },
    ],
    figures: [
      [
        '30, 31, 31, 32, 33 and 48 mΩ: outlier above',
        () => shown(populationOf([30, 31, 31, 32, 33, 48], 3.5, 0.1)?.high ?? NaN, 'mΩ'),
      ],
    ],
    sources: [
      published('Iglewicz and Hoaglin, How to Detect and Handle Outliers (1993)'),
      commonPractice('the ratio of a few'),
    ],
    rules: ['oddBeyond'],
    see: ['uncertainty', 'resistance-conditions'],
  },
  {
    key: 'plausibility',
    topic: 'Readings and uncertainty',
    title: 'Questions about a typed value',
    text: [
      'A value that such a cell hardly has is questioned before it is filed: a voltage outside the chemistry, a ' +
        'weight far from the model, a resistance far from the batch, or digits that the instrument does not show.',
      'If a moved decimal point, swapped digits or a dropped digit explain the value, the screen suggests the ' +
        'corrected line. Press Enter a second time to file the value as typed. A confirmed value is kept and used.',
    ],
    figures: [
      [
        '3.17 V typed where about 3.71 V is expected',
        () => shown(misread({ value: 3.17, step: 0.01 }, 3.7, 0.05)?.value ?? NaN, 'V'),
      ],
    ],
    sources: [ownRule(), commonPractice('a meter counts to about 6000 in one range')],
    see: ['outliers', 'instrument-accuracy'],
  },
  {
    key: 'cross-check',
    topic: 'Readings and uncertainty',
    title: 'Cross-check of instruments',
    text: [
      'Measure the same battery with all instruments at one time. The largest set of instruments that agree ' +
        'within their uncertainties gives the reference. At least three, and more than half, must agree. Two ' +
        'instruments that disagree do not show which one is wrong.',
      'Each channel is then compared with the reference. A channel counts as a group of its own: several ' +
        'checkers can read one pack, group by group. An instrument that claims to be much finer than the others is ' +
        'believed only if it agrees with them.',
    ],
    formulas: [
      {
        tex: String.raw`\chi^2 = \sum_i \frac{(x_i - \bar{x})^2}{u_i^2} < \chi^2_{0.95}(n - 1)`,
        where: [
          ['x_i', 'readings of the set', 'V'],
          [String.raw`\bar{x}`, 'their weighted mean', 'V'],
          ['n', 'instruments in the set'],
        ],
      },
    ],
    figures: [
      [
        '3.712 V (u 2 mV) beside a reference of 3.700 V (u 1 mV)',
        () => shownWithU(differenceFrom({ value: 3.7, u: 0.001 }, { value: 3.712, u: 0.002 }, false), 'V'),
      ],
    ],
    sources: [
      published(
        'M. G. Cox, The evaluation of key comparison data: determining the largest consistent subset, Metrologia ' +
          '44 (2007) 187',
      ),
    ],
    see: ['calibration', 'instrument-accuracy'],
  },
  {
    key: 'calibration',
    topic: 'Readings and uncertainty',
    title: 'Correcting an instrument',
    text: [
      'A channel that differs from the reference can be corrected. One level gives an offset. Two or more different ' +
        'levels give an offset and a gain, fitted by weighted least squares. Away from the measured levels the ' +
        'correction is less certain.',
      'A correction is refused if it would not help: the reference is less certain than the instrument, or the ' +
        'last digit is coarser than the correction. If you adjust the device itself, mark it as adjusted. The old ' +
        'correction then ends.',
    ],
    formulas: [
      {
        tex: String.raw`x_\text{true} = x + b + m\,(x - x_0)`,
        where: [
          ['x', 'reading'],
          ['b', 'offset'],
          ['m', 'gain error'],
          ['x_0', 'mean of the levels'],
        ],
      },
    ],
    sources: [gum('annex H.3')],
    rules: ['calibrateEveryD'],
    see: ['cross-check'],
  },
  {
    key: 'four-wire',
    topic: 'Readings and uncertainty',
    title: 'Four wires, two wires and zero',
    text: [
      'Two wires measure the leads, the clips and the contacts together with the cell: often 20 to 50 mΩ, as ' +
        'much as the cell itself. Four wires carry the current on one pair and sense the voltage on the other, so ' +
        'the leads do not count. Clip the sense pair inside the current pair.',
      'With two wires, touch the probes together at the same place and subtract that zero. The contacts still ' +
        'vary by about 5 mΩ. Each reading is then marked as less certain.',
    ],
    drawing: 'four-wire',
    sources: [commonPractice(), fromMemory('5 mΩ of contact')],
    see: ['lead-resistance', 'resistance-load-step'],
  },
  {
    key: 'lead-resistance',
    topic: 'Readings and uncertainty',
    title: 'Resistance of leads',
    text: [
      'The resistance of a copper lead follows from its gauge and length. Both leads count: current flows there and ' +
        'back. Thin balance leads limit the current, and long test leads add to a two-wire resistance.',
    ],
    formulas: [
      {
        tex: String.raw`d = 0.127\,\text{mm} \cdot 92^{(36-n)/39} \qquad R = \frac{\rho\, l}{\pi\,(d/2)^2}`,
        where: [
          ['n', 'American wire gauge'],
          ['d', 'diameter'],
          ['l', 'length', 'm'],
          [String.raw`\rho`, 'resistivity of copper, 1.7241 · 10⁻⁸', 'Ω·m'],
        ],
      },
    ],
    figures: [
      ['One metre of gauge 18', () => shown(1000 * wireOhm(18, 1), 'mΩ')],
      ['One metre of gauge 22', () => shown(1000 * wireOhm(22, 1), 'mΩ')],
      ['Two leads of half a metre, gauge 20', () => shown(1000 * leadPairOhm(20, 0.5), 'mΩ')],
      ['Cross-section of gauge 18', () => shown(wireAreaMm2(18), 'mm²')],
    ],
    sources: [published('ASTM B258', 'diameters'), published('IEC 60028', 'copper at 20 °C')],
    see: ['four-wire'],
  },
];

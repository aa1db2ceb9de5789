import { chemistries } from '@/core/chemistry/chemistries';
import { askAboutResistance } from '@/core/grading/plausibility';
import type { ResistanceBody } from '@/core/judging/bodies';
import { sumFraction } from '@/core/packs/groupResistances';
import { beyondLimit } from '@/core/quantity/limits';
import type { Question } from '@/core/quantity/question';
import { methods } from '@/core/resistance/methods';
import { counted } from '@/words/counted';
import { questionText } from '@/words/questions';
import { bodyOf, type Figures, figuresOf, type PlacedFigure } from './figures';
import { questionOf, type RoundCell, type RoundContext, type RoundLine, sayReading } from './roundLine';

type TypedMethod = Exclude<RoundContext['method'], 'pulse'>;

/** A line about a pack, understood: raw readings by position, with the figures that a question may be about. */
interface PackFigures {
  bodies: ResistanceBody[];
  temperatureC: number | null;
  typed: PlacedFigure[];
  asks: { question: Question; place?: number } | null;
}

const wrong = (said: string): RoundLine => ({ kind: 'wrong', said });

/**
 * The figures of a pack: where resistances are typed, one for each group from the negative terminal, and after `=` that
 * of the whole; else one reading from terminal to terminal, or behind `g2` at that group alone.
 */
export function understandPackReading(figures: readonly string[], round: RoundContext, pack: RoundCell): RoundLine {
  const { method } = round;
  if (method === 'pulse') return wrong('A logged pulse is filed from the page of its run.');
  const group = /^g(\d{1,3})$/i.exec(figures[0] ?? '')?.[1];
  if (group !== undefined && (Number(group) < 1 || Number(group) > pack.series))
    return wrong(`${pack.code} has ${pack.series} groups; there is no group ${group}.`);
  const typesOhms = methods[method].needs === 'resistance';
  const read =
    group === undefined && typesOhms
      ? readGroups(figures, method, pack)
      : readOne(figures, method, group === undefined ? 0 : Number(group), round, pack);
  if (typeof read === 'string') return wrong(read);

  /** The line with the figure that was meant in the place of that one. */
  const instead = ({ meant }: Question, place: number | undefined): string | null =>
    meant === undefined || place === undefined
      ? null
      : [pack.code, ...figures.slice(0, place), meant, ...figures.slice(place + 1)].join(' ');
  for (const figure of read.typed) {
    const beyond = beyondLimit(figure);
    const suggests = beyond && instead(beyond, figure.place);
    if (beyond) return { kind: 'wrong', said: questionText(beyond), ...(suggests && { suggests }) };
  }
  const { bodies, temperatureC, asks } = read;
  const again = pack.times > 0 ? `, press ${pack.times + 1}` : '';
  return {
    kind: 'reading',
    code: pack.code,
    reading: { bodies, temperatureC },
    said: `${pack.code}${again}: ${sayReading({ bodies, temperatureC })}`,
    asks: asks && { text: questionText(asks.question), suggests: instead(asks.question, asks.place) },
    inFull: `${pack.code} ${figures.join(' ')}`,
  };
}

/** Resistances of all groups, of the whole, or of both. */
function readGroups(words: readonly string[], method: TypedMethod, pack: RoundCell): PackFigures | string {
  const equals = words.indexOf('=');
  const before = equals < 0 ? words : words.slice(0, equals);
  const groups: PlacedFigure[] = [];
  const others: { temperatureC: number | null; openV: PlacedFigure | null } = { temperatureC: null, openV: null };
  for (const [place, word] of before.entries()) {
    const one = figuresOf([word], method);
    // A figure that is no resistance is typed with its unit, beside one that is.
    const beside = one === null ? figuresOf(['1', word], method) : one;
    if (beside === null || typeof beside === 'string') return notUnderstood(word, pack);
    const [ohm] = one === null ? [] : (beside.by.resistance ?? []);
    const [volt] = beside.by.voltage ?? [];
    if (ohm) groups.push({ ...ohm, place });
    else if (volt) others.openV = { ...volt, place };
    else if (beside.temperature) others.temperatureC = beside.temperature.value;
  }
  const whole = equals < 0 ? null : figuresOf(words.slice(equals + 1), method);
  if (typeof whole === 'string') return notUnderstood(whole, pack);
  const [together] = whole?.by.resistance ?? [];
  if (equals >= 0 && !together) return 'After = one resistance is expected, that of the whole.';
  const isWhole = groups.length === 1 && method === 'ac-meter' && !together;
  if (!isWhole && groups.length !== pack.series && (groups.length > 0 || !together))
    return (
      `${pack.code} has ${pack.series} groups; ${counted(groups.length, 'resistance')} ` +
      `${groups.length === 1 ? 'was' : 'were'} read. Type one for each, from the negative terminal.`
    );
  const placed = together && { ...together, place: equals + 1 + together.place };
  const bodyAt = (figure: PlacedFigure, position: number): ResistanceBody => ({
    kind: 'resistance',
    position,
    resistanceOhm: figure.value,
    step: figure.step,
    openV: others.openV?.value ?? null,
    openStep: others.openV?.step ?? null,
  });
  const wholeFigure = isWhole ? groups[0] : placed;
  const each = isWhole ? [] : groups;
  return {
    bodies: [...each.map((figure, i) => bodyAt(figure, i + 1)), ...(wholeFigure ? [bodyAt(wholeFigure, 0)] : [])],
    temperatureC: others.temperatureC ?? whole?.temperature?.value ?? null,
    typed: [...each, ...(wholeFigure ? [wholeFigure] : []), ...(others.openV ? [others.openV] : [])],
    asks: askAboutGroups(each, wholeFigure ?? null, pack),
  };
}

/** One reading of the method, from terminal to terminal or at one group. */
function readOne(
  figures: readonly string[],
  method: TypedMethod,
  position: number,
  round: RoundContext,
  pack: RoundCell,
): PackFigures | string {
  const skipped = position === 0 ? 0 : 1;
  const read = figuresOf(figures.slice(skipped), method);
  const expected = `${methods[method].typed}, from terminal to terminal, or behind g2 of that group`;
  if (typeof read === 'string') return notUnderstood(read, pack);
  if (!read) return `${pack.code}: expected ${expected}.`;
  const moved: Figures = {
    by: Object.fromEntries(
      Object.entries(read.by).map(([dimension, some]) => [
        dimension,
        some.map((figure) => ({ ...figure, place: figure.place + skipped })),
      ]),
    ),
    temperature: read.temperature,
  };
  const body = { ...bodyOf(method, moved), position };
  const of = position === 0 ? pack.series : 1;
  const one = {
    ...moved,
    by: { ...moved.by, voltage: moved.by.voltage?.map((figure) => ({ ...figure, value: figure.value / of })) ?? [] },
  };
  const usual = pack.ownMedianOhm ?? null;
  return {
    bodies: [body],
    temperatureC: read.temperature?.value ?? null,
    typed: [...Object.values(moved.by).flat(), ...(moved.temperature ? [moved.temperature] : [])],
    asks: questionOf(body, one, { ...round, batchMedianOhm: usual && usual * of }, pack),
  };
}

const notUnderstood = (word: string, { code, series }: RoundCell): string =>
  `"${word}" was not understood. Type the resistances of the ${series} groups of ${code} in mΩ, from the ` +
  'negative terminal; after = that of the whole.';

/** A question about resistances of groups: volts typed for milliohms, a slipped point, a whole that is not the sum. */
function askAboutGroups(
  groups: readonly PlacedFigure[],
  whole: PlacedFigure | null,
  { chemistry, series, ownMedianOhm = null }: RoundCell,
): PackFigures['asks'] {
  const { lowestV, fullV } = chemistries[chemistry];
  const isGroupV = (value: number) => value >= 0.8 * lowestV && value <= fullV + 0.1;
  const isPackV = (value: number) => isGroupV(value / series);
  const milliohms = groups.map(({ value }) => 1000 * value);
  const areVolts = milliohms.every((value) => isGroupV(value) || isPackV(value)) && milliohms.some(isGroupV);
  if (groups.length > 0 && ownMedianOhm === null && areVolts) return { question: { code: 'perhaps-volts' } };
  for (const figure of groups) {
    const question = askAboutResistance(figure, ownMedianOhm);
    if (question) return { question, place: figure.place };
  }
  if (whole === null) return null;
  if (whole.value <= 0) return { question: { code: 'resistance-not-above-zero', computed: whole }, place: whole.place };
  const sumOhm = groups.reduce((sum, { value }) => sum + value, 0);
  return groups.length > 0 && Math.abs(whole.value - sumOhm) > sumFraction * sumOhm + series * whole.step
    ? { question: { code: 'whole-not-sum', typed: whole, sumOhm } }
    : null;
}

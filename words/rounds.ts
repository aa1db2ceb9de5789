import type { NotMeasured } from '@/core/judging/judgeRound';
import { intakeReasonText } from './intake';
import { type Sentences, sentenceOf } from './say';

const sentences: Sentences<NotMeasured & { cell: string }> = {
  'put-away': ({ cell }) => `${cell} was put away with its batch: take that out again first.`,
  out: ({ cell, because }) =>
    because === null
      ? `${cell} is scrapped. Do not measure it any more.`
      : `${cell} is scrapped: ${intakeReasonText(because)} Do not measure it any more.`,
  'in-build': ({ cell, buildId }) => `${cell} is in build ${buildId}: free it there first.`,
  'in-pack': ({ cell, pack }) => `${cell} is built into ${pack}. Measure that pack instead.`,
  'below-floor': ({ cell }) => `${cell} is below its lowest voltage: rescue it first.`,
  apart: ({ cell }) => `${cell} was taken apart: its cells are on the shelf.`,
  'not-taken-in': ({ cell, missing }) => `${cell} was not taken in yet. Measure its ${missing} at the intake first.`,
};

/** Why a cell is not measured in a round, and the way on. */
export const notMeasuredText = (cell: string, why: NotMeasured): string => sentenceOf(sentences, { ...why, cell });

import { impossibleText } from '@/words/impossible';
import { ImpossibleInput } from '@/core/impossibleInput';
import { type PredictAsked, type Prediction, predictRun } from '@/core/simulation/predictRun';
import { expose } from 'comlink';

export type Predicted = { ok: true; prediction: Prediction } | { ok: false; said: string };

const predictor = {
  predict(asked: PredictAsked, onShare: (share: number) => void): Predicted {
    try {
      return { ok: true, prediction: predictRun(asked, onShare) };
    } catch (error) {
      if (error instanceof ImpossibleInput) return { ok: false, said: impossibleText(error) };
      throw error;
    }
  },
};

export type Predictor = typeof predictor;
expose(predictor);

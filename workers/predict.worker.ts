import { impossibleText } from '@/words/impossible';
import { ImpossibleInput } from '@/core/impossibleInput';
import { type PredictInput, type Prediction, predictRun } from '@/core/simulation/predictRun';
import { expose } from 'comlink';

export type Predicted = { ok: true; prediction: Prediction } | { ok: false; said: string };

const predictor = {
  predict(asked: PredictInput, onProgress: (fraction: number) => void): Predicted {
    try {
      return { ok: true, prediction: predictRun(asked, onProgress) };
    } catch (error) {
      if (error instanceof ImpossibleInput) return { ok: false, said: impossibleText(error) };
      throw error;
    }
  },
};

export type Predictor = typeof predictor;
expose(predictor);

import type { Warning } from '@/core/warning';
import { warningText } from '@/words/warnings';

/** Warnings as the API gives them: a code for programs, a sentence for people. */
export const warningsAnswer = (warnings: readonly Warning[]): { code: string; message: string }[] =>
  warnings.map((warning) => ({ code: warning.code, message: warningText(warning) }));

/**
 * A question about a figure that was typed, with the one that was probably meant: in figures and unit, as it would be
 * typed.
 */
export interface Question {
  text: string;
  meant?: string;
}

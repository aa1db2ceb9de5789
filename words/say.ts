/** What is said under one code. */
export type Under<Said extends { code: string }, Code extends string> = Said extends unknown
  ? Code extends Said['code']
    ? Said
    : never
  : never;

/** The sentence for each code, from the facts that come with it. */
export type Sentences<Said extends { code: string }> = {
  [Code in Said['code']]: (facts: Under<Said, Code>) => string;
};

/** The sentence for what is to be said. */
export function sentenceOf<Said extends { code: string }>(sentences: Sentences<Said>, said: Said): string {
  // TypeScript does not see that a code and its own facts go together.
  const sentence = sentences[said.code as Said['code']] as (facts: Said) => string;
  return sentence(said);
}

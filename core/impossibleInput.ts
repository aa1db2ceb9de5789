/**
 * Input that no computation can make sense of. `field` names it, the message says what was read and what was expected.
 */
export class ImpossibleInput extends Error {
  constructor(
    readonly field: string,
    message: string,
  ) {
    super(message);
    this.name = 'ImpossibleInput';
  }
}

/** Returns `value` when it is finite and above zero; throws ImpossibleInput otherwise. */
export function positive(field: string, value: number): number {
  if (Number.isFinite(value) && value > 0) return value;
  throw new ImpossibleInput(field, `${field} is ${value}; expected a number above zero.`);
}

/** A number with its word, in the singular for one: `1 cell`, `2 cells`. */
export const counted = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

export const timesText = (count: number): string => ['never', 'once', 'twice'][count] ?? `${count} times`;

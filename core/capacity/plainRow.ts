/** More digits than a double holds exactly are left to the general way. */
const mostDigits = 15;
const powers = Array.from({ length: mostDigits + 1 }, (_, i) => 10 ** i);

const [zero, nine, point, minus, plus, space, return_] = [...'09.-+ \r'].map((sign) => sign.charCodeAt(0)) as [
  number,
  number,
  number,
  number,
  number,
  number,
  number,
];

/**
 * Reads the nearly always plain rows of a long log without making a text of each field: signs, digits, a decimal point,
 * space around. Anything else in a field that is wanted, or a quote before it, is left to the general way.
 * A comma is a decimal sign where it does not separate.
 *
 * @param separator of one letter
 * @param wanted the places of the fields that are read
 */
export function createPlainRow(separator: string, wanted: readonly number[]) {
  const sign = separator.charCodeAt(0);
  const quote = '"'.charCodeAt(0);
  const comma = ','.charCodeAt(0);
  const otherPoint = sign === comma ? point : comma;
  const isWanted = Array.from({ length: Math.max(...wanted) + 1 }, (_, place) => wanted.includes(place));
  const figures = new Float64Array(isWanted.length);

  return {
    /** The figures of the row read last, each at its place. */
    figures,
    /** Reads the row at `from` up to `to`; false where it is not plain, and then nothing of `figures` holds. */
    read(text: string, from: number, to: number): boolean {
      let place = 0;
      let at = from;
      for (; at < to && place < isWanted.length; place++, at++) {
        if (!isWanted[place]) {
          for (; at < to; at++) {
            const code = text.charCodeAt(at);
            if (code === sign) break;
            if (code === quote) return false;
          }
          continue;
        }
        while (at < to && text.charCodeAt(at) === space) at++;
        const first = text.charCodeAt(at);
        const isNegative = first === minus;
        if (isNegative || first === plus) at++;
        let mantissa = 0;
        let digits = 0;
        let pointAt = -1;
        for (; at < to; at++) {
          const code = text.charCodeAt(at);
          if (code >= zero && code <= nine) {
            mantissa = 10 * mantissa + (code - zero);
            digits++;
          } else if ((code === point || code === otherPoint) && pointAt < 0 && digits > 0) {
            pointAt = digits;
          } else break;
        }
        if (digits === 0 || digits > mostDigits || pointAt === digits) return false;
        while (at < to && (text.charCodeAt(at) === space || text.charCodeAt(at) === return_)) at++;
        if (at < to && text.charCodeAt(at) !== sign) return false;
        // Both are exact, so that their quotient is the double next to what is written.
        const value = mantissa / (powers[pointAt < 0 ? 0 : digits - pointAt] as number);
        figures[place] = isNegative ? -value : value;
      }
      return place === isWanted.length;
    },
  };
}

export type PlainRow = ReturnType<typeof createPlainRow>;

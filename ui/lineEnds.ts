/** Dashes that distinguish lines where colour does not; the first is none. */
export const dashes = ['', '7 3', '2 3', '10 3 2 3'];

/** More names than these beside one point are counted instead. */
const mostNames = 4;

/**
 * The name beside the end of each line of a plot; of lines that end beside each other all names, at the first of them.
 *
 * @param near lines whose ends are nearer than this, one to the next, are named together
 */
export function endNames(ends: readonly { name: string; value: number }[], near: number): string[] {
  const names = ends.map(() => '');
  const rising = ends.map(({ value }, i) => ({ value, i })).sort((one, other) => one.value - other.value);
  let together: number[] = [];
  rising.forEach(({ value, i }, n) => {
    together.push(i);
    const next = rising[n + 1];
    if (next && next.value - value < near) return;
    together.sort((one, other) => one - other);
    const own = together.map((each) => ends[each]?.name ?? '');
    names[together[0] ?? 0] = own.length > mostNames ? `${own.length} groups` : own.join(', ');
    together = [];
  });
  return names;
}

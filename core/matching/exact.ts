import type { Block } from './blocks';

/** Steps after which the search gives up; about a second on a small machine. */
const usualSteps = 3_000_000;
/** No cells are left to fill it. */
const none = -Infinity;

/**
 * Searches all arrangements for one whose weakest group exceeds `floorAh`. Groups are built one after the other, each
 * headed by the strongest block not yet placed or passed over, so that no arrangement is seen twice; a branch is left
 * when the strongest cells that remain cannot fill the remaining groups above the floor. Pinned blocks are all placed,
 * those of one group together.
 *
 * @param blocks strongest first by capacity per cell
 * @param mostSteps after which the search gives up
 * @returns the groups, in the order of their numbers where some are pinned to one; null when there is none; 'unknown'
 *   when the step limit came first
 */
export function searchAbove(
  blocks: readonly Block[],
  series: number,
  parallel: number,
  floorAh: number,
  mostSteps = usualSteps,
): Block[][] | null | 'unknown' {
  const used = new Array<boolean>(blocks.length).fill(false);
  const pinned = blocks.flatMap(({ isPinned, size, group }, i) => (isPinned ? [{ i, size, group }] : []));
  const groups: Block[][] = [];
  let steps = 0;

  /**
   * Sum of the strongest `count` cells still free from block `from` on: blocks in order of capacity per cell, the last
   * cut.
   */
  const strongestFrom = (from: number, count: number): number => {
    let sum = 0;
    let missing = count;
    for (let i = from; i < blocks.length && missing > 0; i++) {
      const block = blocks[i] as Block;
      if (used[i]) continue;
      const taken = missing < block.size ? missing : block.size;
      sum += (block.capacityAh * taken) / block.size;
      missing -= taken;
    }
    return missing > 0 ? none : sum;
  };

  /** @param number the group that a block of this one is pinned to */
  const fill = (
    group: Block[],
    sum: number,
    size: number,
    from: number,
    head: number,
    number: number | undefined,
  ): boolean | 'unknown' => {
    steps += 1;
    if (steps > mostSteps) return 'unknown';
    if (size === parallel) {
      if (sum <= floorAh) return false;
      if (number !== undefined && pinned.some((pin) => pin.group === number && !used[pin.i])) return false;
      groups.push([...group]);
      const found = next(head + 1);
      if (found !== false) return found;
      groups.pop();
      return false;
    }
    if (sum + strongestFrom(from, parallel - size) <= floorAh) return false;
    for (let i = from; i < blocks.length; i++) {
      const block = blocks[i] as Block;
      if (used[i] || size + block.size > parallel) continue;
      if (number !== undefined && block.group !== undefined && block.group !== number) continue;
      used[i] = true;
      group.push(block);
      const found = fill(group, sum + block.capacityAh, size + block.size, i + 1, head, number ?? block.group);
      if (found !== false) return found;
      group.pop();
      used[i] = false;
      if (sum + (block.capacityAh / block.size) * (parallel - size) <= floorAh) return false;
    }
    return false;
  };

  const next = (from: number): boolean | 'unknown' => {
    const missing = series - groups.length;
    const stillPinned = pinned.reduce((places, { i, size }) => places + (used[i] ? 0 : size), 0);
    if (stillPinned > missing * parallel) return false;
    if (missing === 0) return true;
    for (let head = from; head < blocks.length; head++) {
      if (used[head]) continue;
      if (strongestFrom(head, missing * parallel) <= missing * floorAh) return false;
      const block = blocks[head] as Block;
      used[head] = true;
      const found = fill([block], block.capacityAh, block.size, head + 1, head, block.group);
      if (found !== false) return found;
      used[head] = false;
      // No later group would hold it.
      if (block.isPinned) return false;
    }
    return false;
  };

  const found = next(0);
  if (found === 'unknown') return found;
  return found ? byNumber(groups) : null;
}

/** Each group that is pinned to a number at its place, the others in between. */
function byNumber(groups: readonly Block[][]): Block[][] {
  const numberOf = (blocks: readonly Block[]): number | undefined =>
    blocks.find(({ group }) => group !== undefined)?.group;
  const others = groups.filter((blocks) => numberOf(blocks) === undefined);
  return groups.map((_, g) => groups.find((blocks) => numberOf(blocks) === g) ?? (others.shift() as Block[]));
}

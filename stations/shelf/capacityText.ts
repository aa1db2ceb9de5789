import { display, formatQuantity } from '@/core/quantity/format';
import type { JudgedCell } from '@/core/judging/judgeCell';

/** What a cell holds, "at least" where its discharge ended above the cut-off; null while nothing is known. */
export const capacityText = ({ capacity, capacityIsAtLeast }: JudgedCell): string | null =>
  capacity && `${capacityIsAtLeast ? 'at least ' : ''}${formatQuantity(capacity, display.capacity)}`;

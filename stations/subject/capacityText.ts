import { display, formatQuantity } from '@/core/quantity/format';
import type { JudgedSubject } from '@/core/judging/subject';

/** What a cell or pack holds, "at least" where its discharge ended above the cut-off; null while nothing is known. */
export const capacityText = ({ capacity, capacityIsAtLeast }: JudgedSubject): string | null =>
  capacity && `${capacityIsAtLeast ? 'at least ' : ''}${formatQuantity(capacity, display.capacity)}`;

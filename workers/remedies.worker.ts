import { compareRemedies, type Remedies, type Uneven } from '@/core/packs/remedies';
import { expose } from 'comlink';

const comparer = {
  compare(pack: Uneven, onShare: (share: number) => void): Remedies {
    return compareRemedies(pack, onShare);
  },
};

export type Comparer = typeof comparer;
expose(comparer);

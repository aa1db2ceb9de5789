import { compareRemedies, type Remedies, type Uneven } from '@/core/packs/remedies';
import { expose } from 'comlink';

const comparer = {
  compare(pack: Uneven, onProgress: (fraction: number) => void): Remedies {
    return compareRemedies(pack, onProgress);
  },
};

export type Comparer = typeof comparer;
expose(comparer);

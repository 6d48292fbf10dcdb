import { formatNumber, say } from './language';

/** What file sizes say on screen. */
export const lookTexts = {
  fileSize: {
    kb: (n: number) => say`${n} kB`,
    mb: (n: number) => `${formatNumber(n, 1)} MB`,
  },
};

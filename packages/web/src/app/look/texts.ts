import { formatNumber, say } from './language';

/** What file sizes and small dialogs say on screen. */
export const lookTexts = {
  askName: { cancel: 'Cancel' },
  fileSize: {
    kb: (n: number) => say`${n} kB`,
    mb: (n: number) => `${formatNumber(n, 1)} MB`,
  },
};

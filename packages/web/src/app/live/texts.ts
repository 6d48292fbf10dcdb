import { say, type Shown } from '../look/language';

/** What live says on screen. */
export const liveTexts = {
  notices: {
    close: 'Close',
  },
  sentenceOf: {
    somethingWentWrongOnThis: 'Something went wrong on this page. Reload it, please.',
    theServerDoesNotAnswer: 'The server does not answer. Is Baton still running?',
    theServerAnswered: (status: Shown) => say`The server answered ${status}.`,
  },
};

import type { DateForm } from '@baton/core';

/** What holds for the whole workspace. */
export interface WorkspaceSettings {
  name: string;
  /** Shown in messages that ask for it, and on the pages that recipients see; '' for none. */
  postalAddress: string;
  /** IANA zone in which days begin and dates are shown. */
  zone: string;
  dateForm: DateForm;
  /** What links to the pages for recipients begin with, as others reach them; '' where nobody else can. */
  publicAddress: string;
  /** A folder of this machine into which campaigns' rows are written with what became of them, after each day; '' for none. */
  rowsFolder: string;
}

/** The settings with what they refer to. */
export interface WorkspaceSettingsView extends WorkspaceSettings {
  /** Where the pages for recipients are served on this machine, for whoever sets up the way to them. */
  publicPages: string;
  /** What was last written into the folder, or why nothing could be, in a sentence; '' before that. */
  rowsFound: string;
}

/** Whether others reach the pages for recipients under an address. */
export interface PublicAddressTest {
  ok: boolean;
  /** In a sentence. */
  said: string;
}

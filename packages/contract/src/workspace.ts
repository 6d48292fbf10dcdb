/** What holds for the whole workspace. */
export interface WorkspaceSettings {
  name: string;
  /** Shown in messages that ask for it, and on the pages that recipients see; '' for none. */
  postalAddress: string;
  /** IANA zone in which days begin and dates are shown. */
  zone: string;
}

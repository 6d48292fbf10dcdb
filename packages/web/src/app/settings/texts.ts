/** What the settings say on screen. */
export const settingsTexts = {
  settings: {
    workspace: 'Workspace',
    name: 'Name',
    nameHint: 'Shown to people who leave a list, where there is no postal address.',
    nameIsMissing: 'Enter a name.',
    postalAddress: 'Postal address',
    postalAddressHint: 'Messages show it where they ask for it; many countries require it in campaign email.',
    timeZone: 'Time zone',
    timeZoneHint: 'Days begin in it, and dates are shown in it. Each mailbox has a zone of its own.',
    timeZoneIsMissing: 'Enter a time zone, such as Europe/Lisbon.',
    save: 'Save',
    saved: 'Settings saved',
  },
};

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
    formOfDates: 'Form of dates',
    formOfDatesHint: 'On every page. Messages write dates as their fields say.',
    forPeople: 'Links in messages',
    publicAddress: 'Public address',
    publicAddressHint:
      'Where others reach the pages for leaving a list and for seeing a message in the browser. Left empty, people leave by mail to the mailbox that wrote to them.',
    publicAddressExample: 'https://mail.tidewaterkelp.example',
    publicPages: 'On this machine these pages are at',
    publicPagesMore: '. Let your web server pass them on from there; nothing else of Baton is served there.',
    test: 'Test the address',
    testing: 'Testing …',
    rowsBack: 'Rows with outcomes',
    rowsFolder: 'Folder for rows with outcomes',
    rowsFolderExample: '/home/ines/outcomes',
    rowsFolderHint:
      'After each day every campaign’s rows are written there with what became of them, as the kind of file they came in. Left empty, nothing is written.',
    save: 'Save',
    saved: 'Settings saved',
  },
};

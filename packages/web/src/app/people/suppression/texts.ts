import { say, type Shown } from '../../look/language';

/** What people, suppression says on screen. */
export const peopleSuppressionTexts = {
  suppressions: {
    addressOrDomain: 'Address or domain',
    reason: 'Reason',
    neverWriteToThis: 'Never write to this',
    importAFile: 'Import a file',
    aFileOfAddressesAnd: 'A file of addresses and domains',
    exportAsAFile: 'Export as a file',
    searchTheSuppressionList: 'Search the suppression list',
    searchAnAddressFindsIts: 'Search: an address finds its domain too',
    who: 'Who',
    source: 'Source',
    since: 'Since',
    remove: 'Remove',
    wholeDomain: 'whole domain',
    writeToThemAgain: 'Write to them again?',
    theListIsEmptyHard: 'The list is empty. Hard bounces, unsubscribes and complaints are added automatically.',
    noEntryMatches: 'No entry matches.',
    showingTheNewest: (n: Shown) => say`, showing the newest ${n}`,
    onTheList: (n: Shown, shown: Shown) => say`${n} on the list${shown}`,
    foundOf: (n: Shown, n2: Shown, shown: Shown) => say`${n} found of ${n2}${shown}`,
    isSuppressedFromNowOn: (what: string) => `${what} is suppressed from now on.`,
    andMore: (value: Shown) => say`; and ${value} more`,
    line: (line: Shown, reason: Shown) => say`line ${line}, ${reason}`,
    notImported: (rows: string, more: string) => `Not imported: ${rows}${more}.`,
    addedAlreadyOnTheList: (added: Shown, known: Shown) => say`${added} added, ${known} already on the list.`,
    mayBeWrittenToAgain: (key: Shown) => say`${key} may be written to again.`,
  },
};

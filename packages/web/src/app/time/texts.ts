/** What fields and panels for days say on screen. */
export const timeTexts = {
  dayPanel: {
    day: 'Another day',
    tomorrow: 'Tomorrow',
    inThreeDays: 'In three days',
    nextMonday: 'Next Monday',
    inTwoWeeks: 'In two weeks',
    inThreeMonths: 'In three months',
  },
  dateField: {
    example: 'Thu 24 Dec 2026',
    missing: 'Enter a date.',
    notADay: (typed: string) => `“${typed}” is not a date. Enter one such as 24 Dec 2026.`,
    tooEarly: (first: string) => `The earliest date is ${first}.`,
    calendar: {
      calendarLabel: 'Calendar',
      openCalendarLabel: 'Open the calendar',
      closeCalendarLabel: 'Close the calendar',
      prevMonthLabel: 'Previous month',
      nextMonthLabel: 'Next month',
      prevYearLabel: 'Previous year',
      nextYearLabel: 'Next year',
      prevMultiYearLabel: 'Previous 24 years',
      nextMultiYearLabel: 'Next 24 years',
      switchToMonthViewLabel: 'Choose a day',
      switchToMultiYearViewLabel: 'Choose a month and year',
    },
  },
};

/** What Baton offers to put right while it imports, in the order in which it is done. */
export const CLEANINGS = [
  'spaces',
  'broken_letters',
  'first_address',
  'named_address',
  'name_case',
  'split_name',
  'legal_form',
  'dates',
] as const;
export type Cleaning = (typeof CLEANINGS)[number];

/** Done unless a person says otherwise: none of them loses anything. */
export const USUAL_CLEANINGS: readonly Cleaning[] = [
  'spaces',
  'broken_letters',
  'named_address',
  'name_case',
  'split_name',
];

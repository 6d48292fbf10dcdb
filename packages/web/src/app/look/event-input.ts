/** The input, list or text area that an event comes from: what a template reads of one, with its type. */
const inputOf = (event: Event) => event.target as HTMLInputElement;

/** The text that was typed or chosen. */
export const typedText = (event: Event): string => inputOf(event).value;

/** Whether a box was ticked. */
export const isTicked = (event: Event): boolean => inputOf(event).checked;

/** The first file that was chosen; null for none. The same one can be chosen again. */
export function chosenFile(event: Event): File | null {
  const input = inputOf(event);
  const file = input.files?.[0] ?? null;
  input.value = '';
  return file;
}

/** The option that was chosen in a list which then shows its first again, ready for another. */
export function takenOption(event: Event): string {
  const list = event.target as HTMLSelectElement;
  const { value } = list;
  list.selectedIndex = 0;
  return value;
}

/** The files that were chosen. */
export const chosenFiles = (event: Event): FileList | null => inputOf(event).files;

/** The value of the option that was chosen in a list whose options are of this kind. */
export const chosenOption = <T extends string>(event: Event): T => inputOf(event).value as T;

/** The whole number that was typed; null when it is none, or outside the bounds (inclusive). */
export function wholeNumber(event: Event, least: number, most: number): number | null {
  const text = typedText(event).trim();
  const n = Number(text);
  return text !== '' && Number.isInteger(n) && n >= least && n <= most ? n : null;
}

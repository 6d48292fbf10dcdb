/** The input, list or text area that an event comes from: what a template reads of one, with its type. */
const inputOf = (event: Event) => event.target as HTMLInputElement;

/** The text that was typed or chosen. */
export const typedText = (event: Event): string => inputOf(event).value;

/** Whether a box was ticked. */
export const isTicked = (event: Event): boolean => inputOf(event).checked;

/** The files that were chosen. */
export const chosenFiles = (event: Event): FileList | null => inputOf(event).files;

/** The value of the option that was chosen in a list whose options are of this kind. */
export const chosenOption = <T extends string>(event: Event): T => inputOf(event).value as T;

/** A text as PostgreSQL can keep it and JSON can carry it: without zero bytes and halves of letters. */
export const storableText = (text: string): string => text.replace(/\0/g, '').replace(/\p{Surrogate}/gu, '\ufffd');

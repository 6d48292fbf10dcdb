/** Something the person at the terminal can put right. */
export class UserError extends Error {}

export function say(text) {
  console.log(text);
}

export function fail(text) {
  console.error(`\n${text}\n`);
  process.exit(1);
}

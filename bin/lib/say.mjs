/** Something the person at the terminal can put right. */
export class UserError extends Error {}

let toPerson = process.stdout;

/** Where the output is data, what is said to the person at the terminal goes beside it. */
export function keepOutputForData() {
  toPerson = process.stderr;
}

export function say(text) {
  toPerson.write(`${text}\n`);
}

export function fail(text) {
  console.error(`\n${text}\n`);
  process.exit(1);
}

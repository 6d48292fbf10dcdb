/** What stands before the words of a server in the reports of another. */
const CUES: readonly RegExp[] = [
  /^\s*Diagnostic-Code:\s*(?:[a-z0-9-]+\s*;)?\s*/im,
  /\bsaid:\s*(?=["'#]?[245]\d\d)/i,
  /^<<<\s*(?=[245]\d\d)/m,
  /\(reason:\s*/i,
  /(?:remote|receiving|recipient['’]?s?|other|destination)?\s?(?:mail )?(?:host|server|system|mta) (?:said|responded(?: with)?|returned|replied|reported|response|answered|gave this error|returned the following(?: error)?|issued an error response)\s*[:\n]?\s*["'‘“«]?(?=#?\s?[<[]?[245]\d\d|#?[245]\.\d)/i,
  /(?:the )?(?:response|reply|error|answer|message)(?: (?:from|of|that|by) [^\n:]{1,80})?(?: (?:was|is|returned))?\s*:\s*["'‘“«]?(?=#?\s?[245]\d\d[ -])/i,
  /^\s*(?:Reason|Error|Details|Cause|Grund|Ursache|Fehler|Raison|Motif|Erreur|Motivo|Causa|Errore|Reden|Fout|Orsak|Årsag|Årsak|Syy|Powód|Důvod|Причина|Ошибка|原因|エラー)\s*[:：]\s*/im,
];
/** A reply of a server (RFC 5321, 4.2) that begins a line or stands in brackets. */
const REPLY = /(?:^|[\s("'#<[:;>])(?=[45]\d\d[ -](?:#?[245]\.\d{1,3}\.\d{1,3}\b)?[^\n]{4,})/;
const MOST_LETTERS = 500;

/**
 * The words in which a server said why it did not take a message, from a report in free form.
 *
 * @returns in one line; '' where the report quotes no server
 */
export function serverWords(text: string): string {
  for (const cue of [...CUES, REPLY]) {
    const found = cue.exec(text);
    if (!found) continue;
    const said = paragraphFrom(text, found.index + found[0].length);
    if (said.length >= 4) return said;
  }
  return '';
}

/** From a place to the end of its paragraph, in one line. */
function paragraphFrom(text: string, at: number): string {
  const rest = text.slice(at, at + 2 * MOST_LETTERS);
  const end =
    /\n[ \t]*\n|\n(?=<[^<>\s]+@|>>>|[A-Z][\w-]+: |-{3})|\(in reply to|#SMTP#/.exec(rest)?.index ?? rest.length;
  return rest
    .slice(0, end)
    .replace(/\n<<<\s*/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/["'’”»#)\s]+$/, '')
    .trim()
    .slice(0, MOST_LETTERS);
}

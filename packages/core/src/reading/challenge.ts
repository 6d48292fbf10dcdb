import { inShort } from './in-short';
import type { IncomingMessage } from './incoming-message';

/** The message waits for something. */
const HELD =
  /\b(?:(?:your|this|the) (?:e-?mail |mail )?(?:message|e-?mail|mail) (?:\S+ ){0,3}?(?:is|was|has been|will be) (?:\S+ )?(?:being |currently |now |temporarily )?(?:held|waiting|pending|queued|quarantined|on hold|placed|not (?:been |yet )?(?:\S+ )?deliver\w*|delivered (?:once|after|as soon as|when|only)|moved to)|(?:before|until|so that|in order (?:for|that)) (?:your|this|the) (?:message|e-?mail|mail)s? (?:\S+ ){0,4}?deliver\w*|(?:to|will) (?:ensure|have|get|let|release|allow|deliver) (?:that )?(?:your|this|the) (?:message|e-?mail|mail)\b|first time you have (?:sent|written)|not (?:yet )?(?:on|in) (?:my|our|the|their) (?:list of )?(?:approved|allowed|trusted|known|safe|white) ?(?:sender|list|contact)|sender(?:'s)? (?:is )?not (?:recogni[sz]ed|known|verified))|(?:ihre|diese) (?:nachricht|e-?mail|mail) .{0,80}(?:zurückgehalten|erst .{0,40}zugestellt|wartet|noch nicht zugestellt)|votre (?:message|e-?mail|courriel) .{0,80}(?:en attente|retenu|sera (?:remis|délivré)|mis en quarantaine)|su (?:mensaje|correo) .{0,80}(?:retenido|pendiente|en espera|será entregado)|il (?:suo|tuo) messaggio .{0,80}(?:attesa|trattenuto|sarà consegnato)|uw (?:bericht|e-?mail) .{0,80}(?:vastgehouden|wacht|pas .{0,30}(?:bezorgd|afgeleverd))|sua mensagem .{0,80}(?:retida|pendente|aguardando|será entregue)/iu;
/** What the sender has to do. */
const ASKS =
  /\b(?:click|follow|visit|use|open) (?:on )?(?:the|this) (?:\S+ )?(?:link|url|button|address|page)|\b(?:confirm|verify|prove|show|validate) (?:that )?(?:you(?:'re| are)?|your (?:identity|address|e-?mail|message)|yourself)|\b(?:simply |just |please )?(?:reply|respond) to this (?:message|e-?mail|mail)|complete (?:the|this|a) (?:\S+ )?(?:form|captcha|verification|request|step)|(?:captcha|one-time (?:verification|confirmation))|(?:klicken sie|bestätigen sie|antworten sie (?:einfach )?auf diese|folgen sie)|(?:cliquez|confirmez|confirmer|veuillez (?:confirmer|cliquer|répondre)|répondez à ce)|(?:haga clic|pulse|confirme|confirmar|responda a este)|(?:clicchi|clicca|confermi|conferma|risponda a questo)|(?:klik|bevestig|beantwoord dit)|(?:clique|confirme|responda a esta)/iu;
/** Enough by itself. */
const PLAIN =
  /\b(?:(?:are|being|is|you're) (?:a )?(?:human|real person|not a (?:robot|machine|bot|spammer))|challenge[- ]response|sender (?:verification|confirmation|authentication) (?:request|required|message)|(?:verification|confirmation) of (?:the )?sender|(?:message|sender) (?:verification|confirmation) (?:required|needed)|confirm (?:that )?you (?:sent|are the sender)|bestätigung des absenders|absenderbestätigung|kein (?:roboter|spammer)|vérification de l['’]expéditeur|n['’]êtes pas un robot|verificaci[óo]n de remitente|no es un robot|verifica (?:del )?mittente|non è un robot|geen robot|verificação de remetente)\b/iu;
const MOST_LETTERS = 3000;

/**
 * Why a message is a challenge: a program wants the sender to show that they are a person before it hands their message on.
 * Null for anything else. Baton answers none by itself.
 */
export function challengeReason({ subject, text }: IncomingMessage, own: string): string | null {
  const words = `${subject}\n${own || text}`.slice(0, MOST_LETTERS).replace(/\s+/g, ' ').replaceAll('’', "'");
  const asks = ASKS.exec(words);
  if (!asks) return null;
  const held = PLAIN.exec(words) ?? HELD.exec(words);
  return held ? `it says “${inShort(held[0])}” and “${inShort(asks[0])}”` : null;
}

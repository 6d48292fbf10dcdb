/*
 * Whether somebody asks, in their own words, to be left alone. What is taken for such a wish suppresses the person at once, so a
 * sentence has to say it: that it has a word of it ("remove this logo", "your unsubscribe link") is not enough. Grouped by
 * language; where a language puts the verb last, its patterns end with it.
 */

/** As much of a person's own words as is looked at. */
const MOST_LETTERS = 8000;
const SHORT = 400;

/** Words that are a wish when they are all that a line says. */
const ALONE =
  /^(?:please |pls |kindly |bitte |merci de |por favor,? |per favore,? |alstublieft |graag |proszę )?(?:stop(?:p|pen)?(?: it| this| that| now| please| all| mail(?:s|ing)?| e-?mails?| spam(?:ming)?)*|unsubscribe(?: me| us| now| all| please| thanks| thank you)*|stop pub|unsub|remove(?: me| us)?(?: now| please)?|remove from (?:your |the )?(?:mailing )?list|delete me|opt[- ]?out|opt me out|take me off|no more(?: mails?| e-?mails?)?|abmelden|abmeldung|abbestell(?:en|ung)|austragen|löschen|keine (?:mails|e-?mails|werbung)(?: mehr)?|se désabonner|me désabonner|désabonne(?:r|ment|z-moi)|désinscription|désinscri(?:re|vez-moi)|(?:dar(?:me)? de )?baja|cancelar(?: suscripción| inscrição| assinatura)?|darme de baja|elim[ií]n(?:ar|eme|enme)|disiscriv(?:imi|etemi|ermi|ersi)|disiscrizione|cancella(?:mi|temi|zione)|rimuov(?:imi|etemi)|uitschrijven|afmelden|geen mails meer|remover|descadastrar|cancelar inscrição|sair da lista|avregistrera(?: mig)?|avsluta|avprenumerera|afmeld(?: mig)?|avmeld(?: meg)?|meld meg av|fjern meg|poista(?: listalta)?|peruuta(?: tilaus)?|lopeta(?:kaa)?|wypisz(?: mnie)?|wypisanie|rezygnuję|odhlásit(?: se)?|odhlaste mě|zrušit odběr|leiratkozás|leiratkozom|dezabonare|dezabonează-mă|отпис(?:ка|аться|ать)|отпишите меня|відписатися|відписка|διαγραφή|απεγγραφή|listeden çıkar|abonelikten çık|iptal|退订|取消订阅|配信停止|配信停止希望|登録解除|수신거부|구독 취소)(?: please| pls| plz| thanks| thank you| bitte| danke| merci| svp| gracias| grazie| obrigad[oa]| bedankt| tack| takk| tak| kiitos| dziękuję| děkuji)?$/iu;

/** Whoever adds how they are to be reached wants to be. */
const DO_NOT_WRITE =
  /(?:^|\b(?:please|kindly|pls|and|so|again)\b,? |[,:–—-] ?)(?:do not|don['’]?t|never)(?: ever)? (?:(?:e-?)?mail|contact|write(?: to)?|message|bother|spam|pester|approach) (?:me|us|here|this|again|any ?more|anyone|anybody)\b(?! off\b)/;
const REACH = /\b(?:call|ring|phone|telephone|text|visit) (?:me|us)\b|\binstead\b/i;

const ENGLISH: readonly RegExp[] = [
  /\bunsubscribe (?:now|at once|right away|today)\b|^(?:please |kindly )?unsubscribe or\b/,
  /\b(?:want|wanna|like|get|let|need) (?:me |us |to be |to get )?(?:off|out of|removed from|taken off) (?:of )?(?:your|this|the|that|all|any) (?:\S+ ){0,2}?(?:list|mailing|database)/,
  /\b(?:ensure|make sure|see to it|guarantee|request|ask|demand|insist)(?: that)? (?:i|we) (?:\S+ )?(?:receive|get|hear|am sent|are sent) (?:no (?:further |more |additional |other )?(?:e-?mails?|mails?|messages?|correspondence|communications?)|nothing (?:more |further |else )?from you)\b/,
  /\b(?:receive|want|send|wish for) no (?:further|more|additional) (?:\S+ )?(?:e-?mails?|mails?|messages?|correspondence|communications?|contact)\b/,
  /\b(?:never|not|don't|do not) (?:\S+ )?(?:write|mail|e-?mail|contact|message|bother|approach) (?:to )?(?:me|us|this address|here)(?: again| any ?more| ever| further| in future)/,
  /\b(?:never|not|don't|do not) (?:contact|bother|approach|spam) (?:me|us)$/,
  /\bunsubscribe (?:me|us|my|our|this (?:e-?mail|address|mailbox)|from (?:this|these|your|all|any)|immediately|asap)\b/,
  /\b(?:remove|delete|drop|strike|exclude|scrub) (?:me|us)\b(?! (?:a|an|the|one|two|some)\b)/,
  /\b(?:remove|delete|erase|drop|scrub|take) (?:all )?(?:my|our|this|that|the following|any) (?:personal |work |business |company['’]?s? )?(?:e-?mail|mail address|address(?:es)?|name|data|details|contact|information|info)\b.{0,40}?(?:\bfrom\b|\boff\b|\bout of\b|$|\bplease\b|\bimmediately\b|\bnow\b)/,
  /\btake (?:me|us|my \w+|our \w+|this address)(?: straight| right)? (?:off|out of)\b/,
  /\bremove (?:\S+ ){0,3}from (?:your|this|the|any|all)(?: of your)? (?:\S+ ){0,3}(?:lists?|database|mailings?|system|distribution)\b/,
  /\b(?:get|take|keep) (?:me|us|my \w+|our \w+) off (?:of )?(?:your|this|the|any)\b/,
  /\b(?:i|we)(?:['’]d| would|['’]ll)?(?: really| very much)? (?:want|wish|like|prefer|need|ask|request|demand) to (?:unsubscribe|opt out|be (?:removed|taken off|deleted|unsubscribed|left alone|excluded))\b/,
  /\bhow (?:do|can|could|would) (?:i|we) (?:unsubscribe(?=\s*(?:$|from\b|me\b|us\b|my\b|our\b|this\b|these\b|please\b|[?.!,]))|opt out|get off|stop (?:these|this|your|getting|receiving))\b/,
  /(?:^|\b(?:please|kindly|and|then|now|must|just|to|so|you)\b |[,:–—-] ?)stop (?:(?:e-?)?mailing|writing|contacting|messaging|spamming|bothering|pestering|harassing|sending (?:me|us|this|these|those|such|any|more|e-?mails?|mails?|messages?|spam|unsolicited|out)\b|(?:these|this|your) (?:e-?)?(?:mails?|messages?|spam|nonsense))/,
  DO_NOT_WRITE,
  /(?:^|\b(?:please|kindly|pls|and|so)\b,? |[,:–—-] ?)(?:do not|don['’]?t|never)(?: ever)? send (?:me |us )?(?:any(?: ?more| further| other|thing(?: else| more)?)?|more|further|these|such|(?:e-?)?mails|messages|spam|unsolicited)\b/,
  /\b(?:i|we)(?: really| simply| just)? (?:do not|don['’]?t|no longer|never) (?:\w+ )?(?:want|wish|care|like|need|agree|consent) (?:to )?(?:receive|get(?:ting)?|be (?:contacted|(?:e-?)?mailed|on)|hear(?:ing)? from|any(?: ?more| further| of your)? (?:(?:e-?)?mails|messages|contact)|your (?:(?:e-?)?mails|messages|spam)|(?:these|such|further|more) (?:(?:e-?)?mails|messages))\b/,
  /\b(?:i|we)(?: would|['’]d)? prefer not to (?:be contacted|receive|hear|get)\b/,
  /(?<!\b(?:gets?|got|see|saw|ha[sd]|have|received?|are|were|is|was|find|found) )\bno (?:more|further) (?:(?:e-?)?mails?|messages?|correspondence|contact|communications?|spam|mailings?|of (?:this|these|your))\b/,
  /\bnot (?:wish|want)(?:ing)? to (?:receive|be contacted)\b/,
  /\bleave (?:me|us|my inbox) (?:alone|in peace|be)\b/,
  /\b(?:cease|discontinue) (?:all |any |further )?(?:and desist|contact|communications?|correspondence|sending|(?:e-?)?mail(?:ing)?s?)\b/,
  /\b(?:i|we|please|to|am|are|me|us) opt(?:ing)?(?: me| us)?[ -]out\b/,
  /\b(?:lose|forget|delete) (?:my|this|our) (?:e-?mail|mail|address|number|contact)\b/,
  /^(?:just |please )?(?:get lost|go away|piss off|sod off|bugger off|f(?:u|\*)(?:c|\*)k off|fuck you)\b/,
  /\b(?:right to (?:be forgotten|erasure|object)|object to (?:the |any )?(?:processing|use|direct marketing)|(?:art\.?|article) ?(?:17|21)\b.{0,40}(?:gdpr|regulation|dsgvo)|withdraw (?:my|our|any) consent)\b/,
  /\b(?:mark(?:ed|ing)?|report(?:ed|ing)?|flag(?:ged|ging)?) (?:this|it|you|your \w+|them) (?:as|for) spam\b/,
  /\b(?:take|leave|count) (?:me|us) off\b|\boff (?:of )?(?:your|this) (?:\S+ )?(?:mailing )?list\b/,
];

const GERMAN: readonly RegExp[] = [
  /\b(?:nehmen|streichen|löschen|entfernen|tragen|melden|nehmt|streicht|löscht|entfernt|nimm|streich|lösch|entfern)e? (?:sie )?(?:bitte )?(?:mich|uns|mir|meine?n?|unsere?n?|diese)\b.{0,60}?(?:\baus\b|\bvon\b|\bab\b|\braus\b|\bheraus\b|adresse|daten|verteiler|liste|$)/,
  /\b(?:mich|uns|meine?|unsere?|diese)\b.{0,40}\b(?:aus|von) (?:ihrer|ihrem|eurer|eurem|der|dem|dieser|diesem|ihren|allen) (?:\S+ )?(?:liste|verteiler|datenbank|mailingliste|e-?mail-?liste|listen)\b/,
  /\baus (?:ihrem|dem|eurem|diesem|ihrer|der|dieser) (?:\S+ )?(?:verteiler|mailingliste|liste|datenbank)\b.{0,40}(?:nehmen|streichen|löschen|entfernen|austragen|entfernt|gelöscht|$)/,
  /\b(?:bitte |künftig |in zukunft |ab sofort )(?:\S+ ){0,3}keine (?:\S+ )?(?:weiteren |werbe-?|mehr )?(?:e-?mails?|mails?|nachrichten|zuschriften|werbung|anfragen|schreiben|werbemails)\b/,
  /^keine (?:weiteren |mehr )(?:\S+ )?(?:e-?mails?|mails?|nachrichten|zuschriften|werbung|schreiben)\b|\bkeine (?:e-?mails?|mails?|nachrichten|werbung|zuschriften) mehr\b/,
  /\b(?:schreiben|kontaktieren|senden|schicken|mailen|belästigen|schreibt|schickt|kontaktiert|schreib|schick) (?:sie )?(?:mir|uns|mich|bitte|hier)?\s?(?:bitte )?(?:mir |uns |mich )?(?:nicht mehr|nie (?:mehr|wieder)|nichts mehr|keine (?:\S+ )?(?:mails?|e-?mails?|nachrichten|werbung)|bitte nicht mehr|nicht (?:wieder|weiter))\b/,
  /\b(?:möchte|möchten|will|wollen|wünsche|wünschen) (?:ich |wir )?(?:in zukunft |künftig |ab sofort |bitte )?(?:von ihnen )?(?:keine|nicht mehr|keinerlei|nichts mehr)\b.{0,60}(?:erhalten|bekommen|kontaktiert|angeschrieben|hören|mails?|nachrichten|werbung|zusendung)/,
  /\bnicht (?:mehr|weiter|länger) (?:zu )?(?:kontaktieren|anschreiben|angeschrieben|kontaktiert|belästigen|anmailen|schreiben)\b/,
  /\b(?:mich|uns|meine adresse) (?:bitte )?(?:abmelden|austragen|abbestellen|löschen|streichen)\b|\b(?:bitte|hiermit)\b.{0,30}\b(?:abmelden|austragen|abbestellen|löschen sie meine)\b/,
  /\b(?:sehen|seht) (?:sie )?(?:bitte )?(?:in zukunft |künftig )?von (?:\S+ ){0,3}(?:zuschriften|e-?mails?|mails?|nachrichten|kontakt\S*|anfragen|werbung|zusendungen|schreiben)\b.{0,20}\bab(?:sehen)?\b/,
  /\b(?:unterlassen|unterlasst|verzichten) (?:sie )?(?:bitte )?(?:künftig |in zukunft )?(?:auf )?(?:\S+ ){0,2}(?:zusendung|zuschriften|e-?mails?|mails?|nachrichten|kontakt\S*|werbung)/,
  /\b(?:e-?mails?|mails?|werbung|newsletter) (?:\S+ ){0,2}(?:abbestellen|abzubestellen)\b/,
  /\bhör(?:en sie|t)? (?:bitte )?auf,? (?:mir|uns|mich)\b.{0,30}\bzu (?:schreiben|mailen|schicken|senden|kontaktieren|belästigen)\b/,
  /\b(?:wünsche|wünschen|möchte|möchten|will|wollen) (?:ich |wir )?keine(?:rlei)? (?:weitere[n]? |erneute[n]? )?(?:kontaktaufnahme|kontaktierung|ansprache|anrufe|werbung|post)\b/,
  /\blassen sie (?:mich|uns) (?:bitte )?(?:in ruhe|zufrieden)\b|\blass(?:t)? (?:mich|uns) in ruhe\b/,
  /\b(?:widerspreche|widersprechen|widerspruch)\b.{0,60}(?:nutzung|verarbeitung|speicherung|daten|werbung|kontakt)/,
];

const FRENCH: readonly RegExp[] = [
  /(?:^|[\s,])(?:désinscri(?:vez|re|s)|désabonne[zr]|retire[zr]|supprime[zr]|enleve[zr]|enlevez|rayez|effacez|ôtez)[- ](?:moi|nous|cette adresse|me)(?=[\s,]|$)/,
  /(?:^|[\s,])(?:me|nous|m['’])\s?(?:désinscrire|désabonner|retirer|supprimer|enlever|rayer|ôter)(?=[\s,]|$)/,
  /(?:retire[zr]|supprime[zr]|enlève[zr]|enleve[zr]|efface[zr]|raye[zr]|ôte[zr]) (?:mon|mes|notre|nos|cette) (?:\S+ )?(?:adresse|e-?mail|mail|nom|données|coordonnées|contact)/,
  /(?:^|[\s,])(?:de|à|veuillez|svp|prière de) ne plus (?:me |nous |m['’]|rien m['’]|rien nous )?(?:écrire|contacter|envoyer|solliciter|adresser|démarcher|déranger|relancer|recevoir)/,
  /(?:^|[\s,])ne (?:me |nous |m['’])?(?:écrivez|contactez|envoyez|sollicitez|dérangez|relancez|démarchez)(?:[- ](?:moi|nous))? (?:plus|jamais)/,
  /(?:je|nous) ne (?:souhaite|souhaitons|veux|voulons|désire|désirons) (?:plus|pas) (?:\S+ )?(?:recevoir|être (?:\S+ )?(?:contactée?s?|sollicitée?s?|démarchée?s?|relancée?s?|destinataires?)|vos (?:mails|e-?mails|messages)|de (?:vos )?(?:mails|e-?mails|messages))/,
  /(?:^|[\s,])(?:plus (?:de|aucun) (?:mails?|e-?mails?|messages?|courriels?)|arrêtez (?:de m|de nous|vos|ces|d['’]envoyer|l['’]envoi))/,
  /laissez[- ](?:moi|nous) tranquille/,
  /(?:cesse[zr]|arrête[zr]) (?:de (?:m['’]|me |nous )?(?:écrire|envoyer|contacter|solliciter|harceler|spammer|démarcher)|(?:vos|ces|d['’]envoyer (?:vos|ces|des)) (?:mails?|e-?mails?|messages?|courriels?|envois?|relances?))/,
  /(?:hors|sortir|sortez|retirer|retirez) (?:\S+ )?de (?:votre|vos|cette) (?:liste|listes|base|fichier|mailing)/,
];

const SPANISH_PORTUGUESE: readonly RegExp[] = [
  /(?:^|[\s,])(?:dar(?:me|nos)|d[ée](?:n)?me|d[ée](?:n)?nos|dame|quiero (?:darme|la)|solicito (?:la|mi)|pido (?:la|mi)) (?:de )?baja/,
  /(?:^|[\s,])(?:elim[ií]n(?:e|en|a|ar)(?:me|nos)|b[óo]rr(?:e|en|a|ar)(?:me|nos)|qu[íi]t(?:e|en|a|ar)(?:me|nos)|s[áa]qu(?:e|en)(?:me|nos)|s[áa]ca(?:me|nos)|ret[íi]r(?:e|en)(?:me|nos))(?=[\s,]|$)/,
  /(?:elimin(?:e|en|ar)|borr(?:e|en|ar)|quit(?:e|en|ar)|retir(?:e|en|ar)) (?:por favor )?(?:mi|mis|nuestr[oa]s?|est[ea]) (?:\S+ )?(?:correo|direcci[óo]n|datos|e-?mail|nombre|contacto)/,
  /(?:^|[\s,])no (?:me|nos) (?:escriba[ns]?|contacte[ns]?|env[íi]e[ns]?|mande[ns]?|moleste[ns]?|escrib[áa]is|mandéis|enviéis)(?: \S+){0,3}? (?:m[áa]s|nunca)/,
  /(?:^|[\s,])no (?:deseo|deseamos|quiero|queremos) (?:seguir |volver a )?(?:recibir|recibiendo|ser contactad|que me (?:escriba|contacte)|m[áa]s (?:correos|e-?mails|mensajes))/,
  /(?:^|[\s,])no (?:enviar|mandar|escribir)(?:me|nos)? (?:m[áa]s|nunca)/,
  /(?:^|[\s,])(?:dej(?:e|en|a|ad) de (?:escribir|enviar|mandar|contactar|molestar)(?:me|nos)?|no m[áa]s (?:correos|e-?mails|mensajes|publicidad))/,
  /(?:^|[\s,])(?:remov(?:a|am|er|e)|retir(?:e|em|ar)|exclu(?:a|am|ir)|tir(?:e|em|ar)|elimin(?:e|em))(?:[- ](?:me|nos)| (?:o )?(?:meu|minha|nosso|nossa|este|esse))(?=[\s,]|$)/,
  /(?:^|[\s,])(?:cancel(?:ar|e|em) (?:a )?(?:minha )?(?:inscrição|assinatura|subscrição)|descadastr(?:ar|e|em)(?:-me)?)/,
  /(?:^|[\s,])não (?:me |nos )?(?:envie[m]?|escreva[m]?|contacte[m]?|contate[m]?|mande[m]?|incomode[m]?)(?:-me)?(?: \S+){0,3}? mais/,
  /(?:^|[\s,])não (?:quero|desejo|queremos|desejamos|pretendo)(?: mais)? (?:receber|ser contactad|ser contatad|mais (?:e-?mails|mensagens))/,
  /(?:^|[\s,])par(?:e|em|a) de (?:me |nos )?(?:enviar|mandar|escrever|contactar)/,
];

const ITALIAN: readonly RegExp[] = [
  /(?:^|[\s,])(?:cancella(?:temi|mi|teci|rmi|rci)|disiscriv(?:etemi|imi|ermi|ete)|rimuov(?:etemi|imi|eteci|ermi)|togli(?:etemi|mi|eteci|ermi)|eliminat(?:emi|eci)|eliminami)(?=[\s,]|$)/,
  /(?:cancellare|cancellate|rimuovere|rimuovete|eliminare|eliminate|togliere|togliete) (?:\S+ )?(?:il mio|i miei|la mia|i nostri|il nostro|questo) (?:\S+ )?(?:indirizzo|nominativo|dati|contatto|e-?mail|mail)/,
  /(?:^|[\s,])non (?:scrive(?:temi|teci)|contatta(?:temi|teci)|manda(?:temi|teci)|invia(?:temi|teci)|disturba(?:temi|teci))(?: \S+){0,3}? (?:pi[ùu]|ancora)/,
  /(?:^|[\s,])non (?:mi|ci) (?:scriva|scrivete|contatti|contattate|mandi|mandate|invii|inviate|disturbi|disturbate)(?: \S+){0,2}? pi[ùu]/,
  /(?:^|[\s,])non (?:desidero|desideriamo|voglio|vogliamo) (?:pi[ùu] )?(?:ricevere|essere contattat|altre (?:mail|e-?mail))/,
  /(?:^|[\s,])(?:basta (?:con )?(?:le |queste )?(?:mail|e-?mail|messaggi)|smette(?:te|tela)|smettila)/,
];

const DUTCH: readonly RegExp[] = [
  /\bvan (?:deze|de|uw|jullie|jouw) (?:\S+ )?(?:lijst|mailinglijst|verzendlijst) (?:af|verwijderd|gehaald)\b/,
  /\b(?:wil|willen|wens|wensen|hoef|hoeven)\b.{0,60}\b(?:niet meer|niet langer|geen)\b.{0,30}\b(?:ontvangen|krijgen)\b/,
  /\b(?:schrijf|meld|haal|verwijder|schrap|verwijderen)(?: u)? (?:mij|me|ons|mijn|onze|dit adres)\b.{0,50}(?:\buit\b|\baf\b|\bvan\b|adres|gegevens|lijst|$)/,
  /\b(?:mij|me|ons) (?:graag |alstublieft )?(?:uitschrijven|afmelden|verwijderen|van de lijst)\b|\b(?:mijn|ons) (?:e-?mail)?adres (?:graag )?(?:te )?verwijderen\b/,
  /\bgeen (?:verdere |nieuwe )?(?:e-?mails?|mails?|berichten|reclame)(?: meer| van u| sturen)/,
  /\b(?:stuur|mail|schrijf|benader|contacteer|stuurt) (?:mij|me|ons)(?: \S+){0,2}? (?:niet meer|niets meer|geen|nooit meer)\b/,
  /\bniet (?:meer|langer) (?:te )?(?:benaderen|mailen|contacteren|schrijven|benaderd|gemaild)\b/,
  /\b(?:wil|willen|wens|wensen) (?:ik |wij |we )?(?:geen|niet meer|niet langer)\b.{0,50}(?:ontvangen|benaderd|gemaild|krijgen)/,
  /\blaat (?:me|mij|ons) met rust\b|\bstop met (?:het )?(?:mailen|sturen|schrijven|benaderen|versturen)/,
];

const NORDIC: readonly RegExp[] = [
  /(?:^|[\s,])(?:avregistrera|ta bort|stryk|avsluta|radera) (?:mig|oss|min|mitt|mina|vår|denna adress)(?=[\s,]|$)/,
  /(?:^|[\s,])(?:afmeld|fjern|slet|slett|avmeld|meld|stryk) (?:mig|meg|os|oss|min|mit|mine|vores|vår)(?=[\s,]|$).{0,60}(?:fra|av|af|liste|adress|mail|epost|e-post|data|$)/,
  /(?:^|[\s,])(?:inga fler|inte fler|ikke flere|ingen flere|ikke mere|ikke mer|ei enää) (?:\S+ )?(?:mejl|mail|mails|e-?mails|e-?post|e-poster|utskick|meddelanden|beskeder|meldinger|viestejä)/,
  /(?:^|[\s,])(?:skicka|mejla|maila|kontakta|skriv till|send|kontakt|skriv til|mail) (?:mig |meg |os |oss )?(?:inte|aldrig|ikke|aldri|ikke mere)(?: \S+){0,2}?(?=[\s,]|$)/,
  /(?:^|[\s,])(?:ikke|inte|ei) (?:send|skicka|mejla|maila|kontakt|kontakta|skriv) (?:mig|meg|os|oss|til (?:mig|meg)) (?:flere|fler|mere|mer|igen|igjen)/,
  /(?:^|[\s,])(?:vill|önskar|ønsker|vil) (?:jag |vi |jeg )?(?:inte|ikke) (?:ha|få|ta emot|modtage|motta) (?:\S+ ){0,2}?(?:fler|flere|mer|mere|dessa|disse|era|ert|jeres|deres) (?:\S+ )?(?:mejl|mail|mails|e-?post|utskick|beskeder|meldinger)/,
  /(?:^|[\s,])(?:vill|önskar|ønsker|vil) (?:jag |vi |jeg )?(?:inte|ikke)(?: \S+){0,2}? (?:ha fler|få fler|få flere|bli kontaktad|blive kontaktet|bli kontaktet|modtage|motta|ta emot)/,
  /(?:^|[\s,])(?:sluta|slutt|stop med|slutt med|hold op med) (?:att |at |å )?(?:skicka|mejla|maila|kontakta|skriva|skrive|sende|maile|kontakte)/,
  /(?:^|[\s,])(?:poista(?:kaa|)|poistakaa) (?:minut|meidät|osoitteeni|tietoni|sähköpostini)|en halua (?:enää )?(?:\S+ )?(?:vastaanottaa|saada|viestejä|sähköposteja)|(?:älkää|älä) (?:enää )?(?:lähettäkö|lähetä|kirjoittako|ottako|ota)/,
  /(?:^|[\s,])(?:låt|lad|la) (?:mig|meg|os|oss) (?:vara|være) i fred/,
];

const SLAVIC_AND_OTHERS: readonly RegExp[] = [
  /(?:proszę|prosimy) (?:\S+ ){0,3}?(?:o )?(?:usuni[ęe]|wykreśl|wypisa|nie (?:pisać|wysyłać|kontaktować|przysyłać)|usunąć)|usuń(?:cie)? (?:mnie|mój|nasz)|wypisz(?:cie)? (?:mnie|nas)/u,
  /nie (?:życzę|życzymy) sobie|nie chc(?:ę|emy) (?:już |więcej )?(?:otrzymywać|dostawać|kontaktu)|nie (?:piszcie|wysyłajcie|kontaktujcie|przysyłajcie|pisz|wysyłaj)(?:cie)? (?:do (?:mnie|nas) )?(?:już|więcej|nic)/u,
  /(?:vyřaďte|vymažte|odstraňte|odhlaste|smažte|vyradte|odstráňte) (?:mě|mne|nás|mou|můj|náš|ma|moju)|(?:nepište|neposílejte|nekontaktujte|neposielajte)(?: (?:mi|nám|mě|nás))?(?: již| už)?|nepřej(?:i|eme) si|nechc(?:i|eme) (?:již |už |další )?(?:dostávat|odebírat)/u,
  /(?:töröl(?:jön|jék|je|jenek)|vegyen(?:ek)? le|iratkoztasson) |ne (?:írjon|küldjön|küldjenek|keressen|írjanak)(?: nekem| többet)?|nem (?:szeretnék|kérek|kérünk) (?:több|további)/u,
  /(?:удалите|исключите|уберите|отпишите|вычеркните) (?:меня|нас|мой|мою|наш|этот)|(?:больше )?не (?:пишите|присылайте|шлите|беспокойте|отправляйте|надо (?:мне )?(?:больше )?(?:писать|присылать))(?: мне| нам| больше|$)|не (?:хочу|хотим|желаю|желаем) (?:больше )?(?:получать|писем)|прекратите (?:рассылку|присылать|писать)|оставьте (?:меня|нас) в покое/u,
  /(?:видаліть|виключіть|відпишіть) (?:мене|нас|мою|нашу)|(?:більше )?не (?:пишіть|надсилайте|турбуйте)/u,
  /(?:διαγράψτε|αφαιρέστε) (?:με|μας|το|τη)|μη(?:ν)? (?:μου|μας|με) (?:ξανα)?(?:στέλνετε|στείλετε|γράψετε|ενοχλείτε|ενοχλήσετε)|δεν (?:θέλω|θέλουμε|επιθυμώ) (?:να λαμβάν|άλλα)/u,
  /(?:listenizden|listeden|abonelikten) (?:\S+ )?(?:çıkar|sil)|(?:bir daha|artık|lütfen) (?:\S+ ){0,3}?(?:yazmayın|göndermeyin|mail atmayın|rahatsız etmeyin)|(?:almak|e-?posta almak) istemiyor/u,
  /(?:scoateți|scoate|ștergeți|eliminați|dezabonați)(?:-mă|-ne| adresa| datele)|nu (?:îmi|ne|mă) mai (?:scrieți|trimiteți|contactați)|nu mai (?:doresc|dorim|vreau) să (?:primesc|primim)/u,
  /配信(?:を)?(?:停止|解除)|(?:もう|今後)?.{0,10}(?:メール|連絡).{0,12}(?:送らないで|不要です|やめて|停止して|しないで)|登録(?:を)?(?:解除|削除)/u,
  /(?:请)?(?:退订|取消订阅)|(?:不要|别|請勿|请勿|请不要)再?.{0,6}(?:发|寄|联系|打扰|來信|发送)|(?:从|將我从|把我从).{0,12}(?:移除|删除|名单)/u,
  /수신\s?거부|(?:더 이상|다시는).{0,20}(?:보내지|연락하지)/u,
];

const WISHES: readonly { wish: RegExp; isOfWay: boolean }[] = [
  ...[ENGLISH, GERMAN, FRENCH, SPANISH_PORTUGUESE, ITALIAN, DUTCH, NORDIC, SLAVIC_AND_OTHERS].flatMap((patterns) =>
    patterns.map((p) => ({ wish: new RegExp(p.source, 'iu'), isOfWay: p === DO_NOT_WRITE })),
  ),
];

/** Sentences that have the words and are no wish: they refuse it, speak of somebody else's mail, or are a footer. */
const NO_WISH: readonly RegExp[] = [
  /\b(?:do not|don['’]?t|did not|didn['’]?t|no need to|not|never)(?: want to| wish to| mean to| intend to)? (?:unsubscribe|remove|delete|take) (?:me|us)\b/iu,
  /^(?:if you (?:no longer|do not|don['’]t)|wenn sie (?:keine|nicht)|si vous ne|si (?:no|ya no)|se non|als u geen|jeśli nie)/iu,
  /^(?:to|zum|um sich|pour|para|per|om u|om je|för att|for å|for at) .{0,60}(?:unsubscribe|opt[- ]?out|abmelden|abbestellen|abzumelden|désabonner|désinscrire|baja|disiscriv|uitschrijven|afmelden|avregistrera|afmelde|avmelde)/iu,
  /\b(?:click|klicken sie|cliquez|haga clic|clicca|klik)\b.{0,80}(?:unsubscribe|abmelden|désabonner|désinscrire|baja|disiscriv|uitschrijven|afmelden)/iu,
];

/** What somebody quotes in a sentence of their own. */
const QUOTED_IN = /["“„«][^"”“»]{12,300}["”“»]/gu;

/** What a reply puts before a subject. */
const RE = /^\s*(?:(?:re|aw|sv|antw|rv|r|ynt|odp|vs|回复|fwd?|wg|tr)\s*(?:\[\d+\])?\s*[:：]\s*)+/iu;

const clean = (line: string): string =>
  line
    .replace(/[*_~"“”„«»'’`()[\]]/gu, (c) => (c === "'" || c === '’' ? c : ''))
    .replace(/^[\s\p{P}]+|[\s\p{P}]+$/gu, '')
    .replace(/\s+/g, ' ');

/** Why a message that says nothing but in its subject wants out, as mail programs write it for their user; null where it does not. */
export function leaves(subject: string): string | null {
  const title = clean(subject.replace(RE, ''));
  return ALONE.test(title) ? `its subject is “${title}”` : null;
}

/**
 * The words with which somebody asks to be left alone.
 *
 * @param own the person's own words, see `ownWords`
 * @returns why, in a few words; null where they do not
 */
export function wantsOut(subject: string, own: string): string | null {
  const bySubject = leaves(subject);
  if (bySubject !== null) return bySubject;
  const text = own.slice(0, MOST_LETTERS);
  for (const line of text.split('\n')) {
    const said = clean(line);
    if (said !== '' && said.length < 80 && ALONE.test(said)) return `it says “${said}”`;
  }
  for (const sentence of sentencesOf(text)) {
    // In a short message, a sentence that is nothing else is as plain as a line.
    if (text.length < SHORT && ALONE.test(clean(sentence))) return `it says “${clean(sentence)}”`;
    if (NO_WISH.some((p) => p.test(sentence))) continue;
    for (const { wish, isOfWay } of WISHES) {
      const found = wish.exec(sentence);
      if (found && !(isOfWay && REACH.test(text))) return `it says “${clean(found[0])}”`;
    }
  }
  return null;
}

/** Sentences, their lines joined; a paragraph ends one. */
function sentencesOf(text: string): string[] {
  return text
    .split(/\n\s*\n/)
    .flatMap((paragraph) =>
      paragraph
        .replace(QUOTED_IN, ' ')
        .replace(/\s*\n\s*/g, ' ')
        .split(/(?<=[.!?…])\s+|[。！？;]/u),
    )
    .map((sentence) =>
      sentence
        .trim()
        .replace(/’/g, "'")
        .slice(0, 600)
        .replace(/[.!?…\s]+$/u, ''),
    )
    .filter((sentence) => sentence !== '');
}

/** What the pages behind unsubscribe links say. */
export interface PageWords {
  question: string;
  /** Of the address that receives no more. */
  noMore: (address: string) => string;
  leave: string;
  onlyThis: string;
  done: string;
  noMoreOfThis: (address: string) => string;
  byMistake: string;
  back: string;
  asBefore: (address: string) => string;
  incomplete: string;
  nothingChanged: string;
}

const ENGLISH: PageWords = {
  question: 'No more messages?',
  noMore: (a) => `${a} will receive no more messages from us.`,
  leave: 'Leave this list',
  onlyThis: 'Only no more about this',
  done: 'Done',
  noMoreOfThis: (a) => `${a} will receive no more messages about this.`,
  byMistake: 'I pressed this by mistake',
  back: 'As before',
  asBefore: (a) => `Nothing has changed for ${a}.`,
  incomplete: 'This link is incomplete',
  nothingChanged:
    'Nothing has been changed. Please use the link exactly as it is in the message, or reply to the message and ask to be removed.',
};

/** By language (ISO 639-1), in the order in which they are preferred where a reader names several alike. */
const WORDS: Readonly<Record<string, PageWords>> = {
  en: ENGLISH,
  de: {
    question: 'Keine weiteren Nachrichten?',
    noMore: (a) => `${a} erhält keine Nachrichten mehr von uns.`,
    leave: 'Abmelden',
    onlyThis: 'Nur nichts mehr hierzu',
    done: 'Erledigt',
    noMoreOfThis: (a) => `${a} erhält hierzu keine Nachrichten mehr.`,
    byMistake: 'Das war ein Versehen',
    back: 'Wie zuvor',
    asBefore: (a) => `Für ${a} hat sich nichts geändert.`,
    incomplete: 'Dieser Link ist unvollständig',
    nothingChanged:
      'Es wurde nichts geändert. Bitte verwenden Sie den Link genau so, wie er in der Nachricht steht, oder antworten Sie auf die Nachricht.',
  },
  fr: {
    question: 'Plus aucun message ?',
    noMore: (a) => `${a} ne recevra plus de messages de notre part.`,
    leave: 'Me désinscrire',
    onlyThis: 'Seulement plus rien à ce sujet',
    done: 'C’est fait',
    noMoreOfThis: (a) => `${a} ne recevra plus de messages à ce sujet.`,
    byMistake: 'C’était une erreur',
    back: 'Comme avant',
    asBefore: (a) => `Rien n’a changé pour ${a}.`,
    incomplete: 'Ce lien est incomplet',
    nothingChanged:
      'Rien n’a été modifié. Veuillez utiliser le lien tel qu’il figure dans le message, ou répondre au message.',
  },
  es: {
    question: '¿No más mensajes?',
    noMore: (a) => `${a} no recibirá más mensajes nuestros.`,
    leave: 'Darme de baja',
    onlyThis: 'Solo nada más sobre esto',
    done: 'Hecho',
    noMoreOfThis: (a) => `${a} no recibirá más mensajes sobre esto.`,
    byMistake: 'Ha sido un error',
    back: 'Como antes',
    asBefore: (a) => `Nada ha cambiado para ${a}.`,
    incomplete: 'Este enlace está incompleto',
    nothingChanged: 'No se ha cambiado nada. Utilice el enlace tal como aparece en el mensaje, o responda al mensaje.',
  },
  it: {
    question: 'Nessun altro messaggio?',
    noMore: (a) => `${a} non riceverà più messaggi da noi.`,
    leave: 'Cancellami',
    onlyThis: 'Solo nient’altro su questo',
    done: 'Fatto',
    noMoreOfThis: (a) => `${a} non riceverà più messaggi su questo.`,
    byMistake: 'È stato un errore',
    back: 'Come prima',
    asBefore: (a) => `Per ${a} non è cambiato nulla.`,
    incomplete: 'Questo link è incompleto',
    nothingChanged:
      'Non è stato cambiato nulla. Usi il link così come si trova nel messaggio, oppure risponda al messaggio.',
  },
  nl: {
    question: 'Geen berichten meer?',
    noMore: (a) => `${a} ontvangt geen berichten meer van ons.`,
    leave: 'Afmelden',
    onlyThis: 'Alleen hierover niets meer',
    done: 'Klaar',
    noMoreOfThis: (a) => `${a} ontvangt hierover geen berichten meer.`,
    byMistake: 'Dit was een vergissing',
    back: 'Zoals voorheen',
    asBefore: (a) => `Voor ${a} is er niets veranderd.`,
    incomplete: 'Deze link is onvolledig',
    nothingChanged:
      'Er is niets veranderd. Gebruik de link precies zoals die in het bericht staat, of beantwoord het bericht.',
  },
  pt: {
    question: 'Não quer mais mensagens?',
    noMore: (a) => `${a} não receberá mais mensagens nossas.`,
    leave: 'Cancelar inscrição',
    onlyThis: 'Apenas nada mais sobre isto',
    done: 'Feito',
    noMoreOfThis: (a) => `${a} não receberá mais mensagens sobre isto.`,
    byMistake: 'Foi um engano',
    back: 'Como antes',
    asBefore: (a) => `Nada mudou para ${a}.`,
    incomplete: 'Este link está incompleto',
    nothingChanged: 'Nada foi alterado. Use o link tal como está na mensagem, ou responda à mensagem.',
  },
  sv: {
    question: 'Inga fler meddelanden?',
    noMore: (a) => `${a} får inga fler meddelanden från oss.`,
    leave: 'Avsluta',
    onlyThis: 'Bara inget mer om detta',
    done: 'Klart',
    noMoreOfThis: (a) => `${a} får inga fler meddelanden om detta.`,
    byMistake: 'Det var ett misstag',
    back: 'Som förut',
    asBefore: (a) => `Ingenting har ändrats för ${a}.`,
    incomplete: 'Länken är ofullständig',
    nothingChanged:
      'Ingenting har ändrats. Använd länken precis som den står i meddelandet, eller svara på meddelandet.',
  },
  da: {
    question: 'Ikke flere beskeder?',
    noMore: (a) => `${a} modtager ikke flere beskeder fra os.`,
    leave: 'Afmeld',
    onlyThis: 'Kun ikke mere om dette',
    done: 'Færdig',
    noMoreOfThis: (a) => `${a} modtager ikke flere beskeder om dette.`,
    byMistake: 'Det var en fejl',
    back: 'Som før',
    asBefore: (a) => `Intet er ændret for ${a}.`,
    incomplete: 'Linket er ufuldstændigt',
    nothingChanged: 'Intet er ændret. Brug linket præcis, som det står i beskeden, eller svar på beskeden.',
  },
  nb: {
    question: 'Ingen flere meldinger?',
    noMore: (a) => `${a} får ingen flere meldinger fra oss.`,
    leave: 'Meld av',
    onlyThis: 'Bare ikke mer om dette',
    done: 'Ferdig',
    noMoreOfThis: (a) => `${a} får ingen flere meldinger om dette.`,
    byMistake: 'Det var en feil',
    back: 'Som før',
    asBefore: (a) => `Ingenting er endret for ${a}.`,
    incomplete: 'Lenken er ufullstendig',
    nothingChanged: 'Ingenting er endret. Bruk lenken akkurat slik den står i meldingen, eller svar på meldingen.',
  },
  pl: {
    question: 'Żadnych więcej wiadomości?',
    noMore: (a) => `${a} nie otrzyma od nas więcej wiadomości.`,
    leave: 'Wypisz mnie',
    onlyThis: 'Tylko nic więcej na ten temat',
    done: 'Gotowe',
    noMoreOfThis: (a) => `${a} nie otrzyma więcej wiadomości na ten temat.`,
    byMistake: 'To była pomyłka',
    back: 'Jak przedtem',
    asBefore: (a) => `Dla ${a} nic się nie zmieniło.`,
    incomplete: 'Ten link jest niekompletny',
    nothingChanged:
      'Nic nie zostało zmienione. Proszę użyć linku dokładnie tak, jak podano w wiadomości, lub odpowiedzieć na nią.',
  },
};

/** Languages in which the pages are there, the first where a reader prefers none of them. */
export const PAGE_LANGUAGES = Object.keys(WORDS);

/** @param language as chosen among `PAGE_LANGUAGES` */
export const pageWords = (language: string): PageWords => WORDS[language] ?? ENGLISH;

/*
 * Somebody no longer works where they were written to. Said by themselves, by a successor, or by a program.
 */

const ENGLISH = [
  "(?:is|am|are|was|'m|'s)(?: sadly| unfortunately)? no longer (?:with (?!you|the project)|at (?!this address)|employed|working (?:at|for|with|here)|part of (?:the (?:company|team|firm|organi[sz]ation)|our)|a member of (?:staff|the team|our)|an employee|here\\b|in (?:our|the) (?:company|employ|team|organi[sz]ation)|associated|affiliated)",
  'no longer (?:works|employed)(?: here| at| for| with|\\b(?! on| from| in the field| well| properly))',
  '(?:i|he|she|they) no longer work (?:at|for|here|there)',
  "(?:has|have|'ve|'s) (?:now |since |recently |already )?left (?:the (?:company|firm|organi[sz]ation|business|practice|group|school|agency|team at)|our (?:company|team|organi[sz]ation|firm)|us\\b(?! a)|(?:my|his|her|their) (?:position|role|job|post)|employment)",
  '(?:i|he|she|they|\\p{L}+) left (?:the (?:company|firm|organi[sz]ation|business)|our (?:company|team|firm|organi[sz]ation)|us in \\p{L}+)',
  "(?:has|have|'ve|'s) (?:now |since |recently )?(?:retired|resigned|moved on from|departed(?: from)?|passed away|moved on to (?:a new|another|new|other)|parted ways)",
  "(?:does not|doesn't|do not|don't) work (?:here|for us|with us|at (?!the moment|home|weekends|night))(?: any ?(?:more|longer))?",
  '(?:my|his|her|their) (?:last|final) (?:working )?day (?:at|with|in|of|here)',
  "(?:is|am|are|'s|'m|isn't|aren't) (?:not |no more )?(?:working |employed )?(?:with|at|for|in) (?:us|our (?:company|team|firm)|the (?:company|firm|organi[sz]ation|team)) any ?(?:more|longer)",
  '(?:is|am|are) (?:not|no more) (?:employed|with us)(?: \\S+){0,5} any ?(?:more|longer)',
  '(?:is|are) no more (?:with|at|in) (?:us|our|the (?:company|firm))',
  '(?:has|have) (?:since |now |recently )?left(?: (?:my|his|her|their) (?:role|job|position|post)| the role)',
  'no longer (?:holds?|hold) (?:this|the|my) (?:position|role|post)',
  'left (?:the company|the firm|the organi[sz]ation) (?:at|in|on|as|last|effective)',
];
const GERMAN = [
  '(?:arbeite[nt]?|bin|ist|sind) (?:leider )?(?:(?:seit|ab|zum) .{1,30} )?(?:leider )?nicht (?:mehr|länger) (?:(?:bei|für|in) (?:uns|unser|der|dem|ihm)|im (?:unternehmen|hause?|betrieb)|in (?:unserem|unserer|dem|der) (?:unternehmen|firma|haus|betrieb|gesellschaft)|(?:bei|für) (?!dies)\\p{L}|beschäftigt|angestellt|mitarbeiter)',
  'nicht (?:mehr|länger) im (?:hause?|unternehmen|betrieb|dienst|amt)',
  'nicht mehr (?:bei|für) .{1,50}(?:tätig|beschäftigt|angestellt|zu erreichen)',
  'nicht mehr (?:in|für) (?:unserem|unserer|unser|die|das) (?:unternehmen|firma|haus|organisation)',
  '(?:hat|habe|haben) .{0,60}(?:firma|unternehmen|haus|betrieb|gesellschaft|organisation)(?: .{0,50})? verlassen',
  '(?:ist|bin) .{0,60}(?:aus dem unternehmen |bei uns |aus der firma |aus unserem .{1,20} )?ausgeschieden',
  '(?:in|seit .{1,20} im) (?:den |dem |seinem |ihrem |meinem )?(?:wohlverdienten )?ruhestand|in rente (?:gegangen|\\b)',
];
const ROMANCE = [
  "ne travaill(?:e|ent) plus (?:chez|pour|ici|dans|à|au|avec)|n['’](?:est|êtes|suis) plus (?:dans (?:notre|la|nos|l['’])|chez (?:nous|\\p{Lu})|au sein|employée?|salariée?|parmi nous|en poste|en fonction|dans (?:la société|l['’]entreprise|nos effectifs))|ne fai(?:t|s) plus partie|(?:a|ai) (?:définitivement )?quitté (?:l['’]entreprise|la société|notre|ses fonctions|mes fonctions|l['’]établissement|le groupe|nos)|partie? à la retraite|n['’]exerce plus",
  'ya no (?:trabaj[ao]|trabajan?|forma parte|formo parte|pertenece|pertenezco|presta servicios|est[áa] (?:en|con) (?:la empresa|nosotros|nuestra))|(?:ha|he) dejado (?:la (?:empresa|compañía)|de (?:trabajar|formar parte|pertenecer))|dej[óé] (?:la (?:empresa|compañía)|de trabajar)|se ha jubilado|me he jubilado|ha causado baja en la empresa',
  '(?:já )?não (?:trabalh[ao]|faz parte|faço parte|integra|colabora|pertence)(?: .{0,20})? mais|já não (?:trabalh[ao]|faz parte|faço parte|pertence|colabora|está (?:na|connosco|conosco))|(?:deixou|deixei) (?:a empresa|de (?:trabalhar|fazer parte|colaborar))|não está mais (?:na|no|conosco|connosco|com a)|se desligou|desligou-se|reformou-se|aposentou(?:-se)?',
  "non (?:lavor[ao]|collabor[ao]) più|non f(?:a|accio) più parte|non è più (?:in (?:azienda|forza|servizio)|presso|con noi|un? dipendente|alle dipendenze)|non sono più (?:in (?:azienda|forza)|presso)|(?:ha|ho) lasciato (?:l['’]azienda|la società|il (?:suo|mio) (?:incarico|ruolo)|la nostra)|andat[oa] in pensione",
  'nu mai (?:lucre(?:z|ază)|face parte|sunt angajat)|(?:a|am) părăsit compania',
];
const NORTHERN = [
  '(?:werkt?|is|ben) (?:sinds .{1,30} )?(?:helaas )?(?:niet (?:meer|langer)) (?:bij|voor|in dienst|werkzaam|in ons)|niet (?:meer|langer) (?:werkzaam|in dienst)|(?:heeft|heb) .{0,40}(?:bedrijf|organisatie|firma|ons) .{0,20}verlaten|uit dienst (?:gegaan|getreden|\\b)|met pensioen(?: gegaan)?',
  '(?:arbetar|jobbar|är) (?:inte längre|ej längre) (?:kvar|på|hos|för|anställd|vid|här)|har (?:slutat|lämnat) (?:på|hos|sin|min|hos oss|företaget|bolaget|här|vid)|har slutat|gått i pension',
  '(?:arbejder|jobber|arbeider|er) (?:ikke længere|ikke lenger|ikke mere) (?:i|hos|ansat|ansatt|for|her|på|ved)|har (?:forladt|sluttet (?:i|hos|på|ved)|fratrådt)|har sluttet|er (?:fratrådt|stoppet|sluttet)|gået på pension|gått av med pensjon',
  'ei (?:enää )?(?:työskentele|ole) .{0,40}(?:palveluksessa|töissä|meillä)|en (?:enää )?(?:työskentele|ole) .{0,40}(?:palveluksessa|töissä)|työskentele enää|jäänyt eläkkeelle|siirtynyt .{0,30}(?:palvelukseen|tehtäviin)',
];
const OTHERS = [
  'nie pracuj(?:e|ę)(?: już)? (?:w|dla|u)|(?:już )?nie pracuj(?:e|ę)(?= |$)|nie jest(?:em)? już (?:pracownikiem|zatrudnion)|(?:odesz(?:ł|ła)|odeszłam|odszedł(?:em)?) (?:z|na)|zakończył[ao]?(?:m)? (?:pracę|współpracę)|przesz(?:edł|ła) na emeryturę',
  '(?:již|už) (?:u nás |zde |v |pro )?.{0,30}nepracuj|nepracuj[ei] (?:již|už)|opustila? (?:společnost|firmu|naši)|(?:odešla?|odchod) do důchodu|(?:už|viac) .{0,20}nepracuje',
  'már nem (?:dolgozik|dolgozom|munkatárs|áll)|távozott (?:a cégtől|cégünktől)|nyugdíjba',
  '(?:больше|уже) не (?:работа|являет|явля)|уволил(?:ся|ась)|покинул[аи]? (?:компани|наш)|вышла? на пенсию|більше не працю|вже не працю',
  'δεν (?:εργάζεται|εργάζομαι) πλέον|(?:έχει |)αποχωρήσει από|artık .{0,50}çalışm(?:ıyor|amakta)|(?:şirketimizden|şirketten|görevinden|işten) ayrıl',
  '退職(?:いた|し|致|となり)|退社(?:いた|し|致)|異動(?:いた|し|致|となり)|离职|離職|不再(?:任职|在.{0,10}工作)|已(?:经)?离开(?:本|我们|我司|公司)|퇴사|퇴직',
];
const LEFT = new RegExp(
  `(?<![\\p{L}])(?:${[...ENGLISH, ...GERMAN, ...ROMANCE, ...NORTHERN, ...OTHERS].join('|')})`,
  'iu',
);

/** A company by its name: "Ana has left Hillside". */
const LEFT_BY_NAME =
  /(?<![\p{L}])(?:\p{Lu}\p{Ll}+|[Ss]he|[Hh]e|I|[Tt]hey)(?:['’](?:ve|s)| has| have) (?:now |since |recently |already )?left (?!(?:Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day|January|February|March|April|May|June|July|August|September|October|November|December)\p{Lu}[\p{L}&-]+/u;

/**
 * The words with which a message says that somebody left their company; null where it does not.
 *
 * @param own its own words, see `ownWords`
 */
export function leftWords(own: string): string | null {
  const text = own.slice(0, 3000).replace(/\s+/g, ' ').replaceAll('’', "'");
  return (LEFT.exec(text) ?? LEFT_BY_NAME.exec(text))?.[0] ?? null;
}

import { isoDate } from '../../time/days';
import { DAY_MS } from '../../time/clock';
import { datesIn, MONTH, monthOf, type NamedDay } from './dates-in-text';

/*
 * On which day somebody is back who is away. People name that day ("back on 7 December"), or the last one on which they are
 * away ("until 4 December", "from 1 to 4 December"), and either by date, weekday, week, or from today on.
 */

/** As much of a message as is looked at. */
const MOST_LETTERS = 4000;
const MOST_SENTENCES = 40;

/** Says that somebody is there again. */
const BACK =
  /\b(?:back|return(?:ing|s)?|resume|reachable again|available again|in the office again|again available|re-?opens?|see you (?:again )?(?:on|in)|will be (?:in|at) (?:the|my) (?:office|desk))\b|\b(?:wieder|zurück|zurueck|rückkehr)\b|(?:de retour|reviendrai|reviens|rentre(?:rai)?|à nouveau|serai de nouveau|mon retour)|(?:vuelvo|volver[ée]|regres(?:o|ar[ée])|de vuelta|reincorpor|estar[ée] (?:de nuevo|disponible)|mi regreso|mi vuelta)|(?:torn(?:o|er[òo])|rientr(?:o|er[òo])|di ritorno|di nuovo|nuovamente|mio rientro)|\b(?:terug|weer (?:aanwezig|bereikbaar|beschikbaar|op|vanaf|in|te)|er weer)\b|(?:volto|voltarei|regress(?:o|arei)|retorn(?:o|arei)|de volta|de regresso|novamente)|(?:tillbaka|åter|tilbake|tilbage|igen)|(?:palaan|takaisin|jälleen|tavoitettavissa taas)|(?:wrac(?:am|ę)|wrócę|powr[oó]t|będę (?:znowu|ponownie|dostępn))|(?:zpět|vrátím|vracím|späť|vrátim)|(?:vissza|újra)|(?:вернусь|возвращ|снова|вновь|на связи|повернусь)|(?:επιστρέφω|επιστρέψω|επιστροφή)|(?:döneceğim|dönüş|dönüyorum)|(?:復帰|出社|戻り|回来|返回|返工|복귀)/iu;

/** Stands before the last day of an absence. */
const UNTIL =
  /(?:\b(?:until|till|['’]til|through|thru|up to(?: and including)?|inclusive of)|\bbis(?: zum| zu| einschließlich(?: zum)?| einschl\.| inkl(?:usive|\.)?| und mit(?: dem)?| inklusive)?|jusqu['’](?:au|à|en)|\bhasta(?: el)?|\bfino al?(?:l['’])?|\bsino al|\btot(?: en met)?|\bt\/m|\baté(?: ao?| o)?(?: dia)?|\btill(?: och med)?|\bt\.?\s?o\.?\s?m\.?|\btil(?: og med)?|\bdo(?! pracy| biura)(?: dnia)?|\baž do|до|по|μέχρι|έως|\bdek|kadar)\s*(?:and including |einschließlich |(?:\p{L}+,? )?(?:the |den |dem |le |el |il |de |o )?)?(?:\p{L}{2,12}[.,]{0,2} (?:den |the |dem )?)?$/iu;
/** Stands before the first day on which somebody can be reached again. */
const NOT_BEFORE =
  /(?:\b(?:not|no|without|un\w+)\b.{0,60}\b(?:before|until)|\bnicht vor(?: dem)?|\bfrühestens(?: (?:am|ab|wieder am))?|\berst (?:wieder )?(?:am|ab)|\bpas avant(?: le)?|\bno .{0,40}antes (?:del?|de el)|\bnon prima (?:del?|di)|\bniet voor|\bnão .{0,40}antes d[eo]|\binte före|\bikke før)\s(?:\p{L}+,? )?(?:the |den |dem |le |el |il |de )?$/iu;
/** Only a part of the day: they are there on it. */
const PART_OF_DAY =
  /^\s?(?:morning|am\b|a\.m\.|noon|midday|früh|morgens?|vormittag|mittag|matin|midi|por la mañana|mattina|ochtend|morgon|formiddag)/iu;
/** Explicitly the last day itself, or a word behind it that says so. */
const INCLUSIVE =
  /\b(?:through|thru|inclusive|including|einschließlich|einschl|inkl|und mit|inclus|incluido|inclusive|incluso|compreso|en met|och med|og med|t\/m|t\.?o\.?m)\b/iu;
/** Stands between the first and the last day of an absence. */
const RANGE = new RegExp(
  `\\d\\p{L}{0,2}[.,]?(?:\\s${MONTH}\\.?)?(?:\\s20\\d\\d)?\\s*(?:-|–|—|~|〜|to|and|bis(?: zum)?|und|au|et|al?|y|e|t/m|tot|en|till|til|og|och|do|a|по)\\s*(?:(?:the|le|el|il|den|dem)\\s)?(?:\\p{L}{2,12}[.,]{0,2}\\s(?:den |the |dem )?)?$`,
  'iu',
);
/** After a date in languages that put it there. */
const UNTIL_BEHIND = /^\s?(?:まで|까지|-?ig\b|asti\b|saakka\b|tarihine kadar|之前)/iu;
/** Stands before the first day of an absence. */
const FROM =
  /(?:\b(?:from|starting|beginning|since|between|as of|vom|von|ab|seit|zwischen|du|à partir du|dès le|del?|desde(?: el)?|dal(?:l['’])?|van(?:af)?|från|fra|fr\.?o\.?m\.?|od|z)|с|από)\s(?:(?:the|dem|den|le|el|il|de)\s)?(?:\p{L}{2,12}[.,]{0,2} (?:den |dem |the )?)?$/iu;

const WEEKDAYS: readonly string[] = [
  'monday mon montag lundi lunes lunedì lunedi maandag segunda-feira segunda måndag mandag maanantaina poniedziałek pondělí hétfő hétfőn понедельник pazartesi δευτέρα 月曜日 周一 星期一',
  'tuesday tue dienstag mardi martes martedì martedi dinsdag terça-feira terça tisdag tirsdag tiistaina wtorek úterý kedd вторник salı τρίτη 火曜日 周二',
  'wednesday wed mittwoch mercredi miércoles mercoledì mercoledi woensdag quarta-feira quarta onsdag keskiviikkona środę středu szerda среду çarşamba τετάρτη 水曜日 周三',
  'thursday thu donnerstag jeudi jueves giovedì giovedi donderdag quinta-feira quinta torsdag torstaina czwartek čtvrtek csütörtök четверг perşembe πέμπτη 木曜日 周四',
  'friday fri freitag vendredi viernes venerdì venerdi vrijdag sexta-feira sexta fredag perjantaina piątek pátek péntek пятницу cuma παρασκευή 金曜日 周五',
  'saturday samstag sonnabend samedi sábado sabato zaterdag lördag lørdag lauantaina sobotę sobotu szombat субботу cumartesi',
  'sunday sonntag dimanche domingo domenica zondag söndag søndag sunnuntaina niedzielę neděli vasárnap воскресенье pazar',
];
const WEEKDAY_OF = new Map(WEEKDAYS.flatMap((names, i) => names.split(' ').map((name) => [name, i] as const)));
const WEEKDAY = new RegExp(
  `(?<![\\p{L}])(${[...WEEKDAY_OF.keys()].sort((a, b) => b.length - a.length).join('|')})s?(?![\\p{L}-])`,
  'giu',
);

const NUMBERS: readonly string[] = [
  'one a an ein eine einem einer une un una uno een een en ett et yhden',
  'two zwei deux dos due twee dois duas två to kahden dwa dwóch dvou',
  'three drei trois tres tre drie três tre kolmen trzy trzech tří',
  'four vier quatre cuatro quattro quatro fyra fire neljän cztery',
  'five fünf cinq cinco cinque vijf fem viiden pięć',
  'six sechs seis sei zes sex seks kuuden sześć',
];
const NUMBER_OF = new Map(NUMBERS.flatMap((names, i) => names.split(' ').map((name) => [name, i + 1] as const)));
const COUNT = `(\\d{1,2}|${[...NUMBER_OF.keys()].sort((a, b) => b.length - a.length).join('|')})`;
const IN =
  "(?<![\\p{L}])(?:in|within|after|for|dans|d['’]ici|pendant|en|dentro de|durante|tra|fra|over|em|daqui a|om|i|za|na|через|für|nach|binnen)";
const IN_DAYS = new RegExp(
  `${IN}\\s(?:the next |den nächsten )?${COUNT}\\s(?:days?|tagen?|jours?|días?|dias?|giorni?|dagen|dag|dagar|dager|dage|dni|дн(?:я|ей))(?![\\p{L}])`,
  'iu',
);
const IN_WEEKS = new RegExp(
  `${IN}\\s(?:the next |den nächsten )?${COUNT}\\s(?:weeks?|wochen?|semaines?|semanas?|settiman[ae]|weken|week|veckor|vecka|uker|uke|uger|uge|tygodni[ea]?|týdn(?:y|ů)|недел[иь])(?![\\p{L}])`,
  'iu',
);
const TOMORROW =
  /(?<![\p{L}])(?:tomorrow|morgen|demain|mañana|domani|amanhã|i morgon|imorgon|i morgen|huomenna|jutro|zítra|завтра|yarın)(?![\p{L}])|明日|明天|내일/iu;
const TODAY =
  /(?<![\p{L}])(?:today|heute|aujourd['’]hui|hoy|oggi|vandaag|hoje|i dag|idag|tänään|dziś|dzisiaj|dnes|сегодня|bugün)(?![\p{L}])|今日|今天/iu;
const NEXT_WEEK =
  /(?:next|the following|kommende[nr]?|nächste[nr]?|folgende[nr]?) (?:week|woche)|la semaine prochaine|(?:la )?(?:próxima semana|semana que viene)|(?:la )?(?:prossima settimana|settimana prossima)|volgende week|nästa vecka|neste uke|næste uge|ensi viikolla|w przyszłym tygodniu|příští týden|на следующей неделе|来週|下周/iu;
const THIS = '(?:the |this |der |dieser |des |dieses |de la |de |du |de cette |del |della |van de |van |da |do )?';
/** The last day of what is running now. */
const END_OF: readonly [RegExp, (today: number) => number][] = [
  [
    new RegExp(
      `(?:end of|(?:the )?(?:rest|remainder) of|ende|fin|final|fine|einde|fim) ${THIS}(?:week|woche|semaine|semana|settimana)`,
      'iu',
    ),
    (today) => today + 4 - weekdayOf(today),
  ],
  [
    new RegExp(
      `(?:end of|(?:the )?(?:rest|remainder) of|ende|fin|finales|fine|einde|fim) ${THIS}(?:month|monats?|mois|mes|mese|maand|mês)`,
      'iu',
    ),
    (today) => monthFrom(today, 1) - 1,
  ],
  [
    new RegExp(
      `(?:end of|(?:the )?(?:rest|remainder) of|ende|jahresende|fin|fine|einde|fim) ?${THIS}(?:year|jahres|ano|année|año|anno|jaar|$)`,
      'iu',
    ),
    (today) => Date.UTC(new Date(today * DAY_MS).getUTCFullYear(), 11, 31) / DAY_MS,
  ],
];
/** A month without a day, with the year where it is named. */
const MONTH_ALONE = new RegExp(
  `(?<![\\p{L}\\d.]|\\d\\S{0,2}\\s(?:of |de |di )?)${MONTH}(?![\\p{L}\\p{M}])\\.?(?:\\s(20\\d\\d))?(?!\\s?\\d)`,
  'giu',
);
const WEEK_NUMBER =
  /(?<![\p{L}])(?:(?:calendar )?week|cw|kw|kalenderwoche|semaine|sem\.?|semana|settimana|vecka|v\.|uke|uge|viikolla|vko|tydzień|týden)\s?(?:no\.? ?|nr\.? ?|#)?(\d{1,2})(?!\d|[.:/]\d)/iu;

const MONDAY = 0;
const weekdayOf = (day: number): number => (day + 3) % 7;

/** The next day on which people work. */
function workingDayFrom(day: number): number {
  const weekday = weekdayOf(day);
  return weekday < 5 ? day : day + 7 - weekday;
}

/** Of a last day of absence, when somebody is there again. Nobody's absence ends with a Monday, unless they say so. */
const backAfter = (last: number, isInclusive: boolean): number =>
  weekdayOf(last) === MONDAY && !isInclusive ? last : workingDayFrom(last + 1);

/** The first day of the month so many after that of a day. */
const monthFrom = (day: number, months: number): number => {
  const date = new Date(day * DAY_MS);
  return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + months, 1) / DAY_MS;
};

/** The first working day of a month that a text names without a day; the next of that name. */
function monthNamed(text: string, today: number): number | null {
  const [match] = [...text.matchAll(MONTH_ALONE)];
  const month = match ? monthOf(match[1] as string) : -1;
  if (!match || month < 0 || (match[1] as string).length < 4) return null;
  const now = new Date(today * DAY_MS);
  const year = match[2] ? Number(match[2]) : now.getUTCFullYear() + (month <= now.getUTCMonth() ? 1 : 0);
  return workingDayFrom(Date.UTC(year, month, 1) / DAY_MS);
}

const nextWeekday = (weekday: number, today: number): number => today + (((weekday - weekdayOf(today) + 6) % 7) + 1);

/** Monday of a week of the ISO calendar (ISO 8601: the first has 4 January), the next of that number. */
function mondayOfWeek(week: number, today: number): number | null {
  if (week < 1 || week > 53) return null;
  const year = new Date(today * DAY_MS).getUTCFullYear();
  for (const y of [year, year + 1]) {
    const fourth = Date.UTC(y, 0, 4) / DAY_MS;
    const monday = fourth - weekdayOf(fourth) + (week - 1) * 7;
    if (monday > today - 7) return monday;
  }
  return null;
}

/** When somebody is away, as far as they say so. */
export interface Absence {
  /** ISO date on which they are back. */
  backOn: string | null;
  /** ISO date that they name as the last of their absence. */
  awayUntil: string | null;
}

/**
 * When somebody is away, where their message says so. Of who names their last day only, the day of return is reckoned.
 *
 * @param text of the message, without what it quotes
 * @param receivedMs when it came in, epoch ms UTC
 */
export function absenceIn(text: string, receivedMs: number): Absence {
  const today = Math.floor(receivedMs / DAY_MS);
  const sentences = sentencesOf(text);
  const last = first(sentences, (s) => lastDayOfAbsence(s, today));
  const day =
    first(sentences, (s) => backBy(s, today)) ??
    (last && backAfter(last.day, last.isInclusive)) ??
    first(sentences, (s) => (AWAY.test(s) ? (awayOn(s, today) ?? relativeDay(s, today)) : null)) ??
    first(sentences, (s) => (AWAY.test(s) || BACK.test(s) ? monthNamed(s, today) : null));
  return { backOn: day === null ? null : isoDate(day), awayUntil: last === null ? null : isoDate(last.day) };
}

/** The ISO date on which somebody who is away is back, where their message says so; see `absenceIn`. */
export const returnDate = (text: string, receivedMs: number): string | null => absenceIn(text, receivedMs).backOn;

const AWAY =
  /\b(?:away|out|absent|off|leave|holiday|vacation|unavailable|travell?ing|sabbatical|maternity|paternity|parental)\b|(?:abwesend|urlaub|elternzeit|mutterschutz|nicht (?:im (?:büro|haus)|erreichbar|da)|absente?|congés?|vacances|ausente|vacaciones|fuera|assente|ferie|fuori|afwezig|vakantie|férias|semester|frånvarande|ferie|fraværende|lomalla|poissa|urlop|nieobecn|dovolen|nepřítom|szabadság|отпуск|отсутств|άδεια|izin)/iu;

function first<T>(items: readonly string[], find: (item: string) => T | null): T | null {
  for (const item of items) {
    const found = find(item);
    if (found !== null) return found;
  }
  return null;
}

/** Sentences and lines; the dots of dates and abbreviations end none. */
function sentencesOf(text: string): string[] {
  return text
    .slice(0, MOST_LETTERS)
    .replace(/[ \t\u00a0]+/g, ' ')
    .split(/\n\s*\n/)
    .flatMap((paragraph) =>
      paragraph.replace(/\s*\n\s*/g, ' ').split(/(?<=\p{Ll}{3}|20\d\d|[)!?])[.!?](?=\s+\p{Lu}|\s*$)|[。！？]/u),
    )
    .map((sentence) => sentence.trim())
    .filter((sentence) => sentence !== '')
    .slice(0, MOST_SENTENCES);
}

/** The day on which a sentence says that somebody is back. */
function backBy(sentence: string, today: number): number | null {
  const cue = BACK.exec(sentence);
  const days = datesIn(sentence, today);
  const first = days.find((d) => isFirstBack(sentence, d.from, d.to));
  if (first) return first.day;
  if (!cue) return partOfWeekday(sentence, today);
  const named = days.filter((d) => !isLastDay(sentence, d));
  // The day after the word; in languages that put it last, the day before it, which is no beginning of the absence.
  const after = named.find((d) => d.from >= cue.index);
  const before = named.filter((d) => d.to <= cue.index && !isFirstDay(sentence, d, days)).at(-1);
  const meant = after ?? before;
  if (meant) return meant.day;
  if (days.some((d) => isLastDay(sentence, d))) return null;
  return relativeDay(sentence, today);
}

/** "Not before 1 December", "until Tuesday morning": the day named is the first on which they are there. */
const isFirstBack = (sentence: string, from: number, to: number): boolean =>
  NOT_BEFORE.test(sentence.slice(Math.max(0, from - 90), from)) || PART_OF_DAY.test(sentence.slice(to));

function partOfWeekday(sentence: string, today: number): number | null {
  for (const match of sentence.matchAll(WEEKDAY))
    if (UNTIL.test(sentence.slice(0, match.index)) && PART_OF_DAY.test(sentence.slice(match.index + match[0].length)))
      return nextWeekday(WEEKDAY_OF.get((match[1] ?? '').toLowerCase()) ?? 0, today);
  return null;
}

/** The last day of an absence that a sentence tells of. */
function lastDayOfAbsence(sentence: string, today: number): { day: number; isInclusive: boolean } | null {
  const last = datesIn(sentence, today)
    .filter((d) => isLastDay(sentence, d))
    .at(-1);
  if (last && !isFirstBack(sentence, last.from, last.to)) {
    const around = sentence.slice(Math.max(0, last.from - 40), last.to + 25);
    return { day: last.day, isInclusive: INCLUSIVE.test(around) };
  }
  for (const [form, day] of END_OF) {
    const match = form.exec(sentence);
    if (match && (UNTIL.test(sentence.slice(0, match.index)) || /^(?:the )?(?:rest|remainder)/i.test(match[0])))
      return { day: day(today), isInclusive: true };
  }
  for (const match of sentence.matchAll(WEEKDAY))
    if (UNTIL.test(sentence.slice(0, match.index)))
      return {
        day: nextWeekday(WEEKDAY_OF.get((match[1] ?? '').toLowerCase()) ?? 0, today),
        isInclusive: INCLUSIVE.test(sentence),
      };
  return null;
}

const isLastDay = (sentence: string, { from, to }: NamedDay): boolean => {
  const before = sentence.slice(Math.max(0, from - 60), from);
  return UNTIL.test(before) || RANGE.test(before) || UNTIL_BEHIND.test(sentence.slice(to));
};

/** "From 1 December I am away, back on 7 December": the first of two. "Reachable again from 7 December" has only one. */
const isFirstDay = (sentence: string, day: NamedDay, all: readonly NamedDay[]): boolean =>
  all.length > 1 && FROM.test(sentence.slice(Math.max(0, day.from - 60), day.from));

/** A day named by its weekday, its week, or from today on. */
function relativeDay(sentence: string, today: number): number | null {
  const week = WEEK_NUMBER.exec(sentence);
  if (week) return mondayOfWeek(Number(week[1]), today);
  const count = (match: RegExpExecArray) => NUMBER_OF.get((match[1] ?? '').toLowerCase()) ?? Number(match[1]);
  const weeks = IN_WEEKS.exec(sentence);
  if (weeks) return workingDayFrom(today + 7 * count(weeks));
  const days = IN_DAYS.exec(sentence);
  if (days) return workingDayFrom(today + count(days));
  // Who names today and tomorrow names no other day by today's weekday.
  if (TODAY.test(sentence) && TOMORROW.test(sentence)) return today + 1;
  const [weekday] = [...sentence.matchAll(WEEKDAY)];
  if (weekday) {
    const day = nextWeekday(WEEKDAY_OF.get((weekday[1] ?? '').toLowerCase()) ?? 0, today);
    // "Monday next week" is never one of this week.
    return NEXT_WEEK.test(sentence) && day < nextWeekday(MONDAY, today) ? day + 7 : day;
  }
  if (NEXT_WEEK.test(sentence)) return nextWeekday(MONDAY, today);
  return TOMORROW.test(sentence) ? today + 1 : null;
}

/** Somebody who is away on a day is there on the next. */
function awayOn(sentence: string, today: number): number | null {
  const day = datesIn(sentence, today).at(-1)?.day;
  return day !== undefined && day >= today ? workingDayFrom(day + 1) : null;
}

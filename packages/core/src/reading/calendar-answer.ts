import type { IncomingMessage } from './incoming-message';

/** What somebody did with, or by, an invitation. */
export type CalendarAnswer = 'accepted' | 'declined' | 'tentative' | 'proposes' | 'invites' | 'cancelled';

const SUBJECTS: readonly [CalendarAnswer, RegExp][] = [
  [
    'accepted',
    /^(?:accepted|angenommen|zugesagt|accepté|aceptad[oa]|aceptó|accettat[oa]|geaccepteerd|aceit[oae]|accepterad|accepteret|akseptert|hyväksytty|zaakceptowano|přijato|elfogadva|принято|kabul edildi|承諾済み|已接受)\s*[:：]/iu,
  ],
  [
    'declined',
    /^(?:declined|abgelehnt|abgesagt durch|refusé|décliné|rechazad[oa]|rifiutat[oa]|geweigerd|afgewezen|recusad[oa]|avböjt|avvist|afvist|hylätty|odrzucono|odmítnuto|elutasítva|отклонено|reddedildi|辞退|已拒绝)\s*[:：]/iu,
  ],
  [
    'tentative',
    /^(?:tentative(?:ly accepted)?|mit vorbehalt|vorläufig|provisoire|peut-être|provisional|tal vez|provvisorio|forse|voorlopig|talvez|preliminär|foreløbig|alustava|wstępnie zaakceptowano|nezávazně|под вопросом|仮承諾|暂定)\s*[:：]/iu,
  ],
  [
    'proposes',
    /^(?:new time proposed|neuer termin vorgeschlagen|neuer zeitvorschlag|nouvelle heure proposée|nueva hora propuesta|nuovo orario proposto|nieuwe tijd voorgesteld)\s*[:：]/iu,
  ],
  [
    'cancelled',
    /^(?:cancell?ed(?: event)?|abgesagt|annulé|cancelad[oa]|annullat[oa]|geannuleerd|inställt|aflyst|avlyst|peruttu|odwołano|zrušeno|отменено|キャンセル済み|已取消)\s*[:：]/iu,
  ],
  [
    'invites',
    /^(?:invitation|updated invitation|einladung|invitación|invito|uitnodiging|convite|inbjudan|indkaldelse|invitasjon|kutsu|zaproszenie|pozvánka|meghívó|приглашение)\s*[:：]/iu,
  ],
];
const PARTSTAT: Readonly<Record<string, CalendarAnswer>> = {
  ACCEPTED: 'accepted',
  DECLINED: 'declined',
  TENTATIVE: 'tentative',
};
/** What programs write under such answers is short. */
const MOST_LETTERS = 2500;

/** What a message does with an invitation (iTIP, RFC 5546); null for a message that is none. */
export function calendarAnswer({
  calendars,
  headers,
  subject,
  own,
}: Pick<IncomingMessage, 'calendars' | 'headers' | 'subject'> & { own: string }): CalendarAnswer | null {
  const title = SUBJECTS.find(([, pattern]) => pattern.test(subject.trim()))?.[0] ?? null;
  for (const calendar of calendars) {
    const method = /^METHOD:\s*([A-Z]+)/im.exec(calendar)?.[1]?.toUpperCase();
    if (method === 'REPLY') {
      const stat = /PARTSTAT=([A-Z-]+)/i.exec(calendar.replace(/\r?\n[ \t]/g, ''))?.[1]?.toUpperCase() ?? '';
      return PARTSTAT[stat] ?? title ?? 'accepted';
    }
    if (method === 'COUNTER') return 'proposes';
    if (method === 'CANCEL') return 'cancelled';
    if (method === 'REQUEST' || method === 'PUBLISH') return title ?? 'invites';
  }
  const isCalendar =
    /calendarmessage/i.test(headers['content-class'] ?? '') || /text\/calendar/i.test(headers['content-type'] ?? '');
  if (isCalendar) return title ?? 'invites';
  // Without the part, the subject tells it of a message in which nobody wrote more than its program.
  const isAboutTime = /@|\d{1,2}[:.h]\d\d|\b20\d\d\b/.test(subject);
  return title !== null && isAboutTime && own.length < MOST_LETTERS ? title : null;
}

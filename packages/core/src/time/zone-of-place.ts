import { isZone } from './zone';

/** Countries that have one zone, or nearly all of their people in one, by names they go by. */
const COUNTRIES: Readonly<Record<string, string>> = {
  'Europe/Amsterdam': 'netherlands holland nederland nl',
  'Europe/Athens': 'greece gr',
  'Europe/Belgrade': 'serbia rs',
  'Europe/Berlin': 'germany deutschland allemagne alemania de',
  'Europe/Bratislava': 'slovakia slovensko sk',
  'Europe/Brussels': 'belgium belgie belgië belgique belgien be',
  'Europe/Bucharest': 'romania ro',
  'Europe/Budapest': 'hungary magyarország hu',
  'Europe/Copenhagen': 'denmark danmark dk',
  'Europe/Dublin': 'ireland éire irland ie',
  'Europe/Helsinki': 'finland suomi fi',
  'Europe/Lisbon': 'portugal pt',
  'Europe/Ljubljana': 'slovenia slovenija si',
  'Europe/London': 'unitedkingdom uk gb greatbritain england scotland wales',
  'Europe/Luxembourg': 'luxembourg luxemburg lu',
  'Europe/Madrid': 'spain españa espagne spanien es',
  'Europe/Oslo': 'norway norge no',
  'Europe/Paris': 'france frankreich francia fr',
  'Europe/Prague': 'czechia czechrepublic česko cz',
  'Europe/Riga': 'latvia lv',
  'Europe/Rome': 'italy italia italien italie it',
  'Europe/Sofia': 'bulgaria bg',
  'Europe/Stockholm': 'sweden sverige schweden se',
  'Europe/Tallinn': 'estonia ee',
  'Europe/Vienna': 'austria österreich autriche at',
  'Europe/Vilnius': 'lithuania lt',
  'Europe/Warsaw': 'poland polska polen pl',
  'Europe/Zagreb': 'croatia hrvatska hr',
  'Europe/Zurich': 'switzerland schweiz suisse svizzera ch',
  'Pacific/Auckland': 'newzealand nz',
  'Asia/Tokyo': 'japan jp',
  'Africa/Johannesburg': 'southafrica za',
};

const plain = (text: string): string =>
  text
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');

const BY_COUNTRY = new Map(
  Object.entries(COUNTRIES).flatMap(([zone, names]) => names.split(' ').map((n) => [n, zone])),
);
/** `Europe/Berlin` by `berlin`: the zones themselves are named after cities. */
const BY_CITY = new Map(
  Intl.supportedValuesOf('timeZone').map((zone) => [plain(zone.slice(zone.lastIndexOf('/') + 1)), zone]),
);

/**
 * The time zone of what a cell names: a zone itself, a country of one zone, or a city after which a zone is named.
 *
 * @returns an IANA zone, or null where the place does not tell
 */
export function zoneOfPlace(text: string): string | null {
  const trimmed = text.trim();
  if (trimmed === '') return null;
  if (trimmed.includes('/') || trimmed === 'UTC') return isZone(trimmed) ? trimmed : null;
  const key = plain(trimmed);
  return BY_COUNTRY.get(key) ?? BY_CITY.get(key) ?? null;
}

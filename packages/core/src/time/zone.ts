import { DomainError } from '../errors';
import { DAY_MS, MINUTE_MS } from './clock';

/** A local wall-clock moment: days since 1970-01-01 of the local date, and minutes since local midnight. */
export interface LocalTime {
  day: number;
  minute: number;
}

/** One IANA time zone. Offsets are looked up once per UTC day and kept in the object. */
export interface Zone {
  readonly name: string;
  /** Milliseconds that local time is ahead of UTC at an instant. */
  offsetMs(instantMs: number): number;
  toLocal(instantMs: number): LocalTime;
  /**
   * The instant of a local wall-clock time. In the gap of a change to summer time: the instant as far
   * after the gap as the time lies inside it. In the overlap of a change back: the earlier of the two.
   *
   * @param minute 0 to 1440 inclusive (1440 is the next local midnight); fractions allowed
   */
  toInstant(day: number, minute: number): number;
}

/** Hands out {@link Zone}s, one object per name. */
export interface Zones {
  /** @throws DomainError `invalid` for a zone the time-zone database does not know */
  get(name: string): Zone;
}

/** Whether the time-zone database knows this name. */
export function isZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en-GB', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/** Zones never change, and asking the time-zone database takes long: what it said is kept. */
const known = new Map<string, Zone>();

export function createZones(): Zones {
  return {
    get(name) {
      let zone = known.get(name);
      if (!zone) {
        zone = createZone(name);
        known.set(name, zone);
      }
      return zone;
    },
  };
}

const FORTNIGHT = 14;

function createZone(name: string): Zone {
  if (!isZone(name)) {
    throw new DomainError('invalid', `There is no time zone “${name}”. Expected a name such as Europe/Lisbon.`);
  }
  const format = new Intl.DateTimeFormat('en-GB', { timeZone: name, timeZoneName: 'longOffset', year: 'numeric' });
  const atMidnight = new Map<number, number>();

  const ask = (instantMs: number): number => {
    const text = format.formatToParts(new Date(instantMs)).find((p) => p.type === 'timeZoneName')?.value ?? 'GMT';
    const m = /GMT(?:([+-])(\d{2}):(\d{2})(?::(\d{2}))?)?/.exec(text);
    if (!m?.[1]) return 0;
    const seconds = Number(m[2]) * 3600 + Number(m[3]) * 60 + Number(m[4] ?? 0);
    return (m[1] === '-' ? -seconds : seconds) * 1000;
  };
  const keep = (utcDay: number): number => {
    let offset = atMidnight.get(utcDay);
    if (offset === undefined) {
      offset = ask(utcDay * DAY_MS);
      atMidnight.set(utcDay, offset);
    }
    return offset;
  };
  // Where both ends of a fortnight agree, so do the days between them: no zone changes twice in one.
  const askMidnight = (utcDay: number): number => {
    const from = Math.floor(utcDay / FORTNIGHT) * FORTNIGHT;
    const offset = keep(from);
    return offset === keep(from + FORTNIGHT) ? offset : keep(utcDay);
  };
  const offsetMs = (instantMs: number): number => {
    const utcDay = Math.floor(instantMs / DAY_MS);
    const before = askMidnight(utcDay);
    return before === askMidnight(utcDay + 1) ? before : ask(instantMs);
  };

  return {
    name,
    offsetMs,
    toLocal(instantMs) {
      const local = instantMs + offsetMs(instantMs);
      const day = Math.floor(local / DAY_MS);
      return { day, minute: (local - day * DAY_MS) / MINUTE_MS };
    },
    toInstant(day, minute) {
      const local = day * DAY_MS + minute * MINUTE_MS;
      const before = offsetMs(local - DAY_MS);
      const after = offsetMs(local + DAY_MS);
      const early = local - Math.max(before, after);
      // Of the two readings, the earlier one is right unless its own offset disowns it.
      if (offsetMs(early) === Math.max(before, after)) return early;
      return local - Math.min(before, after);
    },
  };
}

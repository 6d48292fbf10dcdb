import { inject, Injectable } from '@angular/core';
import { DateAdapter, type MatDateFormats } from '@angular/material/core';
import { dayNumber, isoDate, isoWeekday, readDay } from '@baton/core';
import { formatNumber, months, weekdays } from '../look/language';
import { WorkspaceTime } from './workspace-time';

/** What was typed and is no day. */
const INVALID = 'invalid';
const ISO = /^\d{4}-\d\d-\d\d$/;

const pad = (n: number, digits: number) => String(n).padStart(digits, '0');
const daysIn = (year: number, month: number) => new Date(Date.UTC(year, month + 1, 0)).getUTCDate();

/** How the calendar writes days: for this adapter a format is only a name. */
export const DAY_FORMATS: MatDateFormats = {
  parse: { dateInput: 'day' },
  display: { dateInput: 'day', monthYearLabel: 'month', dateA11yLabel: 'day', monthYearA11yLabel: 'month' },
};

/** Lets Material's calendar work on ISO dates as they are: a day never goes through an instant, whatever the zone. */
@Injectable()
export class IsoDateAdapter extends DateAdapter<string> {
  private readonly time = inject(WorkspaceTime);

  getYear(date: string): number {
    return Number(date.slice(0, 4));
  }

  getMonth(date: string): number {
    return Number(date.slice(5, 7)) - 1;
  }

  getDate(date: string): number {
    return Number(date.slice(8));
  }

  /** 0 Sunday to 6 Saturday, as Material counts. */
  getDayOfWeek(date: string): number {
    return isoWeekday(dayNumber(date)) % 7;
  }

  getMonthNames(): string[] {
    return months();
  }

  getDateNames(): string[] {
    return Array.from({ length: 31 }, (_, i) => formatNumber(i + 1));
  }

  getDayOfWeekNames(style: 'long' | 'short' | 'narrow'): string[] {
    const [sunday, ...others] = [...weekdays(style === 'long' ? 'long' : 'short')].reverse();
    return [sunday ?? '', ...others.reverse()];
  }

  getYearName(date: string): string {
    return date.slice(0, 4);
  }

  getFirstDayOfWeek(): number {
    return 1;
  }

  getNumDaysInMonth(date: string): number {
    return daysIn(this.getYear(date), this.getMonth(date));
  }

  clone(date: string): string {
    return date;
  }

  /** @throws Error when there is no such day */
  createDate(year: number, month: number, date: number): string {
    return isoDate(dayNumber(`${pad(year, 4)}-${pad(month + 1, 2)}-${pad(date, 2)}`));
  }

  /** The workspace's day, which in a simulated workspace is not the machine's. */
  today(): string {
    return this.time.today();
  }

  parse(value: unknown): string | null {
    const text = typeof value === 'string' ? value.trim() : '';
    return text === '' ? null : (readDay(text, this.today(), this.time.form()) ?? INVALID);
  }

  format(date: string, format: unknown): string {
    if (format === 'month') return `${months()[this.getMonth(date)] ?? ''} ${this.getYearName(date)}`;
    return this.time.dayWords(date, 'dated');
  }

  addCalendarYears(date: string, years: number): string {
    return this.addCalendarMonths(date, 12 * years);
  }

  /** In a month that is too short, its last day. */
  addCalendarMonths(date: string, count: number): string {
    const all = 12 * this.getYear(date) + this.getMonth(date) + count;
    const [year, month] = [Math.floor(all / 12), ((all % 12) + 12) % 12];
    return this.createDate(year, month, Math.min(this.getDate(date), daysIn(year, month)));
  }

  addCalendarDays(date: string, days: number): string {
    return isoDate(dayNumber(date) + days);
  }

  toIso8601(date: string): string {
    return date;
  }

  override deserialize(value: unknown): string | null {
    return value === '' ? null : super.deserialize(value);
  }

  isDateInstance(value: unknown): boolean {
    return typeof value === 'string' && (value === INVALID || ISO.test(value));
  }

  isValid(date: string): boolean {
    return date !== INVALID;
  }

  invalid(): string {
    return INVALID;
  }
}

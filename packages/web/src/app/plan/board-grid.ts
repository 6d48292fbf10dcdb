import type { PlanBoard, PlanCampaignRow, PlanLoad, PlanMailboxRow } from '@baton/contract';
import { dayNumber, isoDate, isoWeekday } from '@baton/core';
import { cellWords, lineWords } from './plan-words';
import type { WhatIfAnswer } from './what-if-answer';
import { months, weekdays } from '../look/language';
import { planTexts } from './texts';

const texts = planTexts.boardGrid;

/** How much of the plan is seen at once. */
export interface Zoom {
  name: 'week' | 'three weeks' | 'quarter' | 'half a year';
  words: string;
  days: number;
  /** Days that share a column. */
  step: 1 | 7;
}

export const ZOOMS: readonly Zoom[] = [
  { name: 'week', words: texts.aWeek, days: 7, step: 1 },
  { name: 'three weeks', words: texts.threeWeeks, days: 21, step: 1 },
  { name: 'quarter', words: texts.aQuarter, days: 91, step: 7 },
  { name: 'half a year', words: texts.halfAYear, days: 182, step: 7 },
];

/** A day, or a week of them. */
export interface Column {
  /** ISO date of its first day. */
  day: string;
  days: number;
  top: string;
  label: string;
  /** What it is for those who do not see the board. */
  words: string;
  isNow: boolean;
  /** A day on which nothing leaves from anywhere: drawn as a narrow band. */
  shut: boolean;
  /** What it is called, where it is a day off for everybody. */
  holiday: string;
}

export interface Segment {
  colour: number;
  followUp: boolean;
  sent: boolean;
  /** Share of the board's greatest load or ceiling, 0 to 1. */
  height: number;
}

export interface Cell {
  segments: Segment[];
  /** In the same shares; null where it is closed. */
  ceiling: number | null;
  load: number;
  may: number | null;
  /** What the stored plan has, where a what-if has something else. */
  before: number | null;
  held: number;
  /** The mailbox rests on its days. */
  rests: boolean;
  words: string;
}

export interface Row {
  mailbox: PlanMailboxRow;
  cells: Cell[];
}

/** What a campaign has by day, drawn as a mailbox's load is. */
export interface CampaignLine {
  campaign: PlanCampaignRow;
  cells: Pick<Cell, 'segments' | 'load' | 'before' | 'words'>[];
}

export interface Grid {
  columns: Column[];
  rows: Row[];
  totals: { load: number; may: number }[];
}

const SHORT_WEEKDAYS = weekdays('short');
const MONTHS = months();

/** The months that some columns are in, with the year where it is not that of today: Nov – Jan 2027. */
export function monthsOf(columns: readonly Column[], today: string): string {
  const [first, last] = [columns[0]?.day, columns.at(-1)];
  if (!first || !last) return '';
  const end = isoDate(dayNumber(last.day) + last.days - 1);
  const month = (day: string) => MONTHS[Number(day.slice(5, 7)) - 1] as string;
  const [from, to] = [first.slice(0, 7), end.slice(0, 7)];
  const year = end.slice(0, 4) === today.slice(0, 4) ? '' : ` ${end.slice(0, 4)}`;
  return `${from === to ? '' : `${month(first)} – `}${month(end)}${year}`;
}

/** The loads with a what-if: what was sent stays, what is to come is taken from the answer. */
export function loadsWith(board: PlanBoard, answer: WhatIfAnswer | null): PlanLoad[] {
  if (!answer) return board.loads;
  const gone = board.loads
    .filter((l) => l.firstSent + l.followUpsSent > 0)
    .map((l) => ({ ...l, first: l.firstSent, followUps: l.followUpsSent, held: 0 }));
  return [...gone, ...answer.loads];
}

/** The board as it is drawn: from a day on, at a zoom. */
export function gridOf(board: PlanBoard, answer: WhatIfAnswer | null, fromDay: string, zoom: Zoom): Grid {
  const loads = loadsWith(board, answer);
  const columns = columnsOf(board, loads, fromDay, zoom);
  const campaigns = new Map(board.campaigns.map((c) => [c.id, c]));
  const now = byCell(loads, columns, (l) => l.mailboxId);
  const old = answer ? byCell(board.loads, columns, (l) => l.mailboxId) : null;
  const rows = board.mailboxes.map((mailbox): Row => ({
    mailbox,
    cells: columns.map((column, i) => {
      const own = merge(now.get(`${mailbox.id}/${i}`) ?? []);
      const may = mayOf(board, mailbox, column, answer);
      const load = sum(own, unitsOf);
      const before = old ? sum(old.get(`${mailbox.id}/${i}`) ?? [], unitsOf) : null;
      return {
        ...{ segments: segmentsOf(own, campaigns), ceiling: may, load, may },
        before: before === load ? null : before,
        held: sum(own, (l) => l.held),
        rests: mailbox.restUntil !== null && column.day >= board.today && column.day < mailbox.restUntil,
        words: cellWords(
          mailbox,
          column.words,
          own.map((l) => ({ ...l, campaign: campaigns.get(l.campaignId) })),
          may,
        ),
      };
    }),
  }));
  scale(rows);
  return {
    columns,
    rows,
    totals: columns.map((_, i) => ({
      load: sum(rows, (r) => r.cells[i]?.load ?? 0),
      may: sum(rows, (r) => r.cells[i]?.may ?? 0),
    })),
  };
}

/** A share of the board's greatest load or ceiling, as a length in CSS. */
export const percent = (share: number): string => `${100 * share}%`;

/** The loads of each row and column, by `row/column`. */
function byCell(
  loads: readonly PlanLoad[],
  columns: readonly Column[],
  rowOf: (load: PlanLoad) => number,
): Map<string, PlanLoad[]> {
  const at = new Map<string, number>();
  columns.forEach((c, i) => {
    for (let k = 0; k < c.days; k++) at.set(isoDate(dayNumber(c.day) + k), i);
  });
  const cells = new Map<string, PlanLoad[]>();
  for (const load of loads) {
    const column = at.get(load.day);
    if (column === undefined) continue;
    const key = `${rowOf(load)}/${column}`;
    const cell = cells.get(key);
    if (cell) cell.push(load);
    else cells.set(key, [load]);
  }
  return cells;
}

/**
 * The campaigns against one another: what each has on each day, all in one scale.
 *
 * @param campaigns in the order in which they are drawn
 */
export function linesOf(
  board: PlanBoard,
  answer: WhatIfAnswer | null,
  columns: readonly Column[],
  campaigns: readonly PlanCampaignRow[],
): CampaignLine[] {
  const now = byCell(loadsWith(board, answer), columns, (l) => l.campaignId);
  const old = answer ? byCell(board.loads, columns, (l) => l.campaignId) : null;
  const byId = new Map(campaigns.map((c) => [c.id, c]));
  const lines = campaigns.map((campaign): CampaignLine => ({
    campaign,
    cells: columns.map((column, i) => {
      const own = merge(now.get(`${campaign.id}/${i}`) ?? []);
      const load = sum(own, unitsOf);
      const before = old ? sum(old.get(`${campaign.id}/${i}`) ?? [], unitsOf) : null;
      return {
        ...{ segments: segmentsOf(own, byId), load, before: before === load ? null : before },
        words: lineWords(campaign, column.words, own[0]),
      };
    }),
  }));
  const most = Math.max(1, ...lines.flatMap((l) => l.cells.map((c) => Math.max(c.load, c.before ?? 0))));
  for (const cell of lines.flatMap((l) => l.cells)) {
    for (const s of cell.segments) s.height /= most;
    if (cell.before !== null) cell.before /= most;
  }
  return lines;
}

const sum = <T>(list: readonly T[], of: (item: T) => number) => list.reduce((n, item) => n + of(item), 0);
const unitsOf = (l: PlanLoad) => l.first + l.followUps;

/** One entry for each campaign. */
function merge(loads: readonly PlanLoad[]): PlanLoad[] {
  const byCampaign = new Map<number, PlanLoad>();
  for (const l of loads) {
    const known = byCampaign.get(l.campaignId);
    byCampaign.set(
      l.campaignId,
      known
        ? {
            ...known,
            first: known.first + l.first,
            followUps: known.followUps + l.followUps,
            firstSent: known.firstSent + l.firstSent,
            followUpsSent: known.followUpsSent + l.followUpsSent,
            messages: known.messages + l.messages,
            held: known.held + l.held,
          }
        : l,
    );
  }
  return [...byCampaign.values()].sort((a, b) => a.campaignId - b.campaignId);
}

/** From the ground up: first messages, then follow-ups; of each what has left before what is to come. */
function segmentsOf(loads: readonly PlanLoad[], campaigns: ReadonlyMap<number, PlanCampaignRow>): Segment[] {
  const of = (followUp: boolean) =>
    loads.flatMap((l): Segment[] => {
      const colour = campaigns.get(l.campaignId)?.colour ?? 0;
      const [all, sent] = followUp ? [l.followUps, l.followUpsSent] : [l.first, l.firstSent];
      return [
        { colour, followUp, sent: true, height: sent },
        { colour, followUp, sent: false, height: all - sent },
      ].filter((s) => s.height > 0);
    });
  return [...of(false), ...of(true)];
}

function scale(rows: readonly Row[]): void {
  const most = Math.max(1, ...rows.flatMap((r) => r.cells.map((c) => Math.max(c.load, c.may ?? 0, c.before ?? 0))));
  for (const cell of rows.flatMap((r) => r.cells)) {
    for (const s of cell.segments) s.height /= most;
    if (cell.ceiling !== null) cell.ceiling /= most;
    if (cell.before !== null) cell.before /= most;
  }
}

function mayOf(board: PlanBoard, mailbox: PlanMailboxRow, column: Column, answer: WhatIfAnswer | null): number | null {
  const first = dayNumber(column.day) - dayNumber(board.from);
  let may: number | null = null;
  for (let k = 0; k < column.days; k++) {
    const day = isoDate(dayNumber(column.day) + k);
    const own = ceilingOn(board, mailbox, day, first + k, answer);
    if (own !== null) may = (may ?? 0) + own;
  }
  return may;
}

/** What a mailbox may send on a day: as stored, or as a what-if has it; for today a what-if only knows the rest of the day. */
export function ceilingOn(
  board: PlanBoard,
  mailbox: PlanMailboxRow,
  day: string,
  index: number,
  answer: WhatIfAnswer | null,
): number | null {
  const own = mailbox.ceilings[index] ?? null;
  const other = answer?.ceilings.get(mailbox.id)?.get(day);
  if (other === undefined || day < board.today) return own;
  if (day > board.today) return other;
  const gone = board.loads.filter((l) => l.mailboxId === mailbox.id && l.day === day);
  return other === null ? own : other + sum(gone, (l) => l.firstSent + l.followUpsSent);
}

function columnsOf(board: PlanBoard, loads: readonly PlanLoad[], fromDay: string, zoom: Zoom): Column[] {
  const used = new Set(loads.map((l) => l.day));
  const holidays = new Map(board.holidays.map((h) => [h.day, h.name]));
  const base = dayNumber(board.from);
  const first = dayNumber(fromDay);
  return Array.from({ length: zoom.days / zoom.step }, (_, i): Column => {
    const number = first + i * zoom.step;
    const day = isoDate(number);
    const [, month, date] = day.split('-').map(Number) as [number, number, number];
    const monthName = MONTHS[month - 1] as string;
    const isOpen = (n: number) => used.has(isoDate(n)) || board.mailboxes.some((m) => m.ceilings[n - base] != null);
    const weekday = SHORT_WEEKDAYS[isoWeekday(number) - 1] as string;
    const starts = date <= zoom.step || i === 0;
    return {
      day,
      days: zoom.step,
      top: zoom.step === 1 ? weekday : starts ? monthName : '',
      label: `${date}`,
      words: zoom.step === 1 ? `${weekday} ${date} ${monthName}` : texts.weekOf(date, monthName),
      isNow: board.today >= day && board.today < isoDate(number + zoom.step),
      // A working day on which every mailbox rests is a day like others.
      shut: zoom.step === 1 && (isoWeekday(number) > 5 || holidays.has(day)) && !isOpen(number),
      holiday: holidays.get(day) ?? '',
    };
  });
}

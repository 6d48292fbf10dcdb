import type Router from '@koa/router';
import { exactRouter } from '../../http/exact-router';
import {
  COLUMN_KINDS,
  MAX_WRITTEN_DAYS,
  OUTCOME_COLUMNS,
  TEXT_TESTS,
  VERDICTS,
  writeCsv,
  type ColumnKind,
  type ListQuery,
  type OutcomeKey,
  type SplitBy,
  type Verdict,
} from '@baton/core';
import {
  FILE_FORMATS,
  SET_OPERATIONS,
  type CellEdit,
  type ColumnsArranged,
  type FeedChoices,
  type FileFormat,
  type FillWith,
  type NewColumn,
  type RowChoice,
  type RowsAsked,
  type SetOperation,
} from '@baton/contract';
import Joi from 'joi';
import { Readable } from 'node:stream';
import type { ServerParts } from '../../http/context';
import { sendCsv } from '../../http/send-csv';
import { isoDay, parse, parseId, rowId } from '../../http/validate';
import { announce } from '../../store/changes';
import { wantDomains } from '../../store/people/list/domain-rows';
import { putFeed, removeFeed } from '../../store/people/import/feed-rows';
import { listLists, listRemovedLists, readAside, readList } from '../../store/people/list/list-rows';
import {
  addColumn,
  arrangeColumns,
  removeColumn,
  renameColumn,
  setColumnKind,
  setFormula,
  setVerdicts,
  splitColumn,
} from './change-columns';
import { noList, stepChange } from './change-list';
import { editCells, fillColumn, removeRows, restoreRows } from './edit-rows';
import { lookAt } from '../import/feed-duty';
import { listFile } from './list-file';
import { mendAside } from '../import/mend-aside';
import {
  combineLists,
  hideOutcomes,
  removeList,
  renameList,
  restoreList,
  viewList,
  viewRowIds,
  viewRows,
  viewRowsById,
  viewValues,
} from './list-service';
import { changeSegment, dropSegment, saveSegment, viewSegments } from './segment-service';

const key = Joi.string().min(1).max(200);
const name = Joi.string().trim().min(1).max(120).required();
const value = Joi.string().allow('').max(10_000).required();
const rowIds = Joi.array().items(rowId).max(1_000_000);
const filter = Joi.alternatives(
  Joi.object({
    key: key.required(),
    kind: Joi.valid('text').required(),
    test: Joi.valid(...TEXT_TESTS).required(),
    value,
  }),
  Joi.object({
    key: key.required(),
    kind: Joi.valid('among').required(),
    values: Joi.array().items(Joi.string().allow('')).max(1000).required(),
    not: Joi.boolean().required(),
    days: Joi.number().integer().min(1).max(MAX_WRITTEN_DAYS),
  }),
  Joi.object({
    key: key.required(),
    kind: Joi.valid('number').required(),
    from: Joi.number().allow(null).required(),
    to: Joi.number().allow(null).required(),
  }),
  Joi.object({
    key: key.required(),
    kind: Joi.valid('date').required(),
    from: isoDay.allow(null).required(),
    to: isoDay.allow(null).required(),
  }),
  Joi.object({ key: key.required(), kind: Joi.valid('blank').required(), blank: Joi.boolean().required() }),
);
const query = Joi.object<ListQuery>({
  search: Joi.string().trim().allow('').max(200).required(),
  filters: Joi.array().items(filter).max(50).required(),
  sort: Joi.array()
    .items(Joi.object({ key: key.required(), descending: Joi.boolean().required() }))
    .max(10)
    .required(),
}).required();
const asked = { query, removed: Joi.boolean().default(false) };
/** Rows that are picked, or all that are found, as they come in. */
export const choiceOfRows = Joi.alternatives(
  Joi.object({ rows: rowIds.required() }),
  Joi.object({ query, count: Joi.number().integer().min(0).required() }),
).required();

const BODIES = {
  rows: Joi.object<RowsAsked & { offset: number; limit: number }>({
    ...asked,
    offset: Joi.number().integer().min(0).default(0),
    limit: Joi.number().integer().min(1).max(1000).default(100),
  }),
  ids: Joi.object<RowsAsked>(asked),
  byId: Joi.object<{ rows: number[] }>({ rows: Joi.array().items(rowId).max(1000).required() }),
  values: Joi.object<RowsAsked & { key: string }>({ ...asked, key: key.required() }),
  cells: Joi.object<{ cells: CellEdit[] }>({
    cells: Joi.array()
      .items(Joi.object({ rowId: rowId.required(), key: key.required(), value }))
      .max(200_000)
      .required(),
  }),
  fill: Joi.object<{ choice: RowChoice; key: string; fill: FillWith }>({
    choice: choiceOfRows,
    key: key.required(),
    fill: Joi.object({ kind: Joi.valid('set', 'tag', 'untag').required(), value }).required(),
  }),
  choice: Joi.object<{ choice: RowChoice }>({ choice: choiceOfRows }),
  file: Joi.object<{ what: { rows: number[] } | { query: ListQuery }; format: FileFormat; outcomes: boolean }>({
    what: Joi.alternatives(Joi.object({ rows: rowIds.required() }), Joi.object({ query })).required(),
    format: Joi.valid(...FILE_FORMATS).required(),
    outcomes: Joi.boolean().default(false),
  }),
  outcomes: Joi.object<{ hidden: OutcomeKey[] }>({
    hidden: Joi.array()
      .unique()
      .items(Joi.valid(...OUTCOME_COLUMNS.map((c) => c.key)))
      .required(),
  }),
  arranged: Joi.object<{ columns: ColumnsArranged }>({
    columns: Joi.array()
      .items(Joi.object({ key: key.required(), hidden: Joi.boolean().required() }))
      .max(600)
      .required(),
  }),
  column: Joi.object<NewColumn>({
    name,
    kind: Joi.valid(...COLUMN_KINDS).required(),
    formula: Joi.string().max(5000).allow(null).required(),
    after: key.allow(null).required(),
  }),
  change: Joi.object<{
    name?: string;
    kind?: ColumnKind;
    formula?: string;
    verdicts?: Record<string, Verdict>;
  }>({
    name: name.optional(),
    kind: Joi.valid(...COLUMN_KINDS),
    formula: Joi.string().max(5000),
    verdicts: Joi.object()
      .pattern(Joi.string().max(200), Joi.valid(...VERDICTS))
      .max(200),
  }).length(1),
  split: Joi.object<{ by: SplitBy }>({
    by: Joi.alternatives(
      Joi.object({ kind: Joi.valid('name').required() }),
      Joi.object({ kind: Joi.valid('separator').required(), separator: Joi.string().min(1).max(10).required() }),
    ).required(),
  }),
  feed: Joi.object<FeedChoices>({
    kind: Joi.valid('folder', 'url').required(),
    place: Joi.string().trim().min(1).max(2000).required(),
    how: Joi.valid('add', 'update').required(),
    everyMinutes: Joi.number().integer().min(5).max(10_080).required(),
    allowPrivate: Joi.boolean().required(),
  }),
  mend: Joi.object<{ address: string }>({ address: value }),
  name: Joi.object<{ name: string }>({ name }),
  segment: Joi.object<{ name: string; query: ListQuery }>({ name, query }),
  segmentChange: Joi.object<{ name?: string; query?: ListQuery }>({
    name: name.optional(),
    query: query.optional(),
  }).min(1),
  combine: Joi.object<{ name: string; how: SetOperation; listIds: number[] }>({
    name,
    how: Joi.valid(...SET_OPERATIONS).required(),
    listIds: Joi.array().items(rowId).unique().min(2).max(20).required(),
  }),
};

export function listRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  wholeLists(router, parts);
  rowsOfLists(router, parts);
  columnsOfLists(router, parts);
  segmentsOfLists(router, parts);
  feedsOfLists(router, parts);
  return router;
}

function wholeLists(router: Router, { store: { db }, clock }: ServerParts): void {
  router.get('/lists', async (ctx) => {
    ctx.body = await listLists(db);
  });
  router.get('/lists/removed', async (ctx) => {
    ctx.body = await listRemovedLists(db);
  });
  router.post('/lists/combine', async (ctx) => {
    const { name: called, how, listIds } = parse(BODIES.combine, ctx.request.body);
    ctx.body = { listId: await combineLists(db, called, how, listIds, await clock.now()) };
  });
  router.get('/lists/:id', async (ctx) => {
    ctx.body = await viewList(db, parseId(ctx.params['id']), await clock.now());
  });
  router.patch('/lists/:id', async (ctx) => {
    await renameList(db, parseId(ctx.params['id']), parse(BODIES.name, ctx.request.body).name);
    ctx.status = 204;
  });
  router.delete('/lists/:id', async (ctx) => {
    await removeList(db, parseId(ctx.params['id']), await clock.now());
    ctx.status = 204;
  });
  router.post('/lists/:id/restore', async (ctx) => {
    await restoreList(db, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  for (const way of ['undo', 'redo'] as const)
    router.post(`/lists/:id/${way}`, async (ctx) => {
      ctx.body = await stepChange(db, parseId(ctx.params['id']), await clock.now(), way);
    });
  router.get('/lists/:id/aside', async (ctx) => {
    const aside = await readAside(db, parseId(ctx.params['id']));
    ctx.body = aside.map(({ id, line, cells, reason, fields }) => ({ id, line, cells, reason, fits: fields !== null }));
  });
  router.post('/lists/:id/aside/:row/mend', async (ctx) => {
    const { address } = parse(BODIES.mend, ctx.request.body);
    const [listId, row] = [parseId(ctx.params['id']), parseId(ctx.params['row'])];
    ctx.body = await mendAside(db, listId, row, address, await clock.now());
  });
  router.get('/lists/:id/aside.csv', async (ctx) => {
    const aside = await readAside(db, parseId(ctx.params['id']));
    const rows = aside.map((a) => [String(a.line), a.reason, ...a.cells]);
    sendCsv(ctx, 'kept-aside.csv', writeCsv([['line', 'reason', 'cells'], ...rows]));
  });
}

function rowsOfLists(router: Router, { store, clock, log }: ServerParts): void {
  const { db } = store;
  router.post('/lists/:id/rows', async (ctx) => {
    const body = parse(BODIES.rows, ctx.request.body);
    ctx.body = await viewRows(store, parseId(ctx.params['id']), body, body, await clock.now(), log);
  });
  // Four bytes a row, little-endian: a million rows are 4 MB.
  router.post('/lists/:id/row-ids', async (ctx) => {
    const ids = await viewRowIds(db, parseId(ctx.params['id']), parse(BODIES.ids, ctx.request.body), await clock.now());
    ctx.type = 'application/octet-stream';
    ctx.body = Buffer.from(Int32Array.from(ids).buffer);
  });
  router.post('/lists/:id/rows-by-id', async (ctx) => {
    const { rows } = parse(BODIES.byId, ctx.request.body);
    ctx.body = await viewRowsById(db, parseId(ctx.params['id']), rows, await clock.now());
  });
  router.post('/lists/:id/values', async (ctx) => {
    const body = parse(BODIES.values, ctx.request.body);
    ctx.body = await viewValues(db, parseId(ctx.params['id']), body, body.key, await clock.now());
  });
  router.post('/lists/:id/cells', async (ctx) => {
    const { cells } = parse(BODIES.cells, ctx.request.body);
    ctx.body = await editCells(db, parseId(ctx.params['id']), cells, await clock.now());
  });
  router.post('/lists/:id/fill', async (ctx) => {
    const body = parse(BODIES.fill, ctx.request.body);
    ctx.body = await fillColumn(db, parseId(ctx.params['id']), body.choice, body.key, body.fill, await clock.now());
  });
  router.post('/lists/:id/file', async (ctx) => {
    const { what, format, outcomes } = parse(BODIES.file, ctx.request.body);
    const file = await listFile(db, parseId(ctx.params['id']), what, format, outcomes, await clock.now());
    ctx.attachment(file.name);
    ctx.type = file.type;
    ctx.body = Buffer.isBuffer(file.content) ? file.content : Readable.from(file.content);
  });
  router.post('/lists/:id/remove-rows', async (ctx) => {
    const body = parse(BODIES.choice, ctx.request.body);
    ctx.body = await removeRows(db, parseId(ctx.params['id']), body.choice, await clock.now());
  });
  router.post('/lists/:id/restore-rows', async (ctx) => {
    const body = parse(BODIES.choice, ctx.request.body);
    ctx.body = await restoreRows(db, parseId(ctx.params['id']), body.choice, await clock.now());
  });
}

function columnsOfLists(router: Router, { store: { db }, clock }: ServerParts): void {
  router.put('/lists/:id/columns', async (ctx) => {
    const { columns } = parse(BODIES.arranged, ctx.request.body);
    ctx.body = await arrangeColumns(db, parseId(ctx.params['id']), columns, await clock.now());
  });
  router.put('/lists/:id/outcomes', async (ctx) => {
    const { hidden } = parse(BODIES.outcomes, ctx.request.body);
    await hideOutcomes(db, parseId(ctx.params['id']), hidden);
    ctx.status = 204;
  });
  router.post('/lists/:id/columns', async (ctx) => {
    const column = parse(BODIES.column, ctx.request.body);
    ctx.body = await addColumn(db, parseId(ctx.params['id']), column, await clock.now());
  });
  router.patch('/lists/:id/columns/:key', async (ctx) => {
    const change = parse(BODIES.change, ctx.request.body);
    const at = [db, parseId(ctx.params['id']), ctx.params['key'] ?? ''] as const;
    const nowMs = await clock.now();
    if (change.name !== undefined) ctx.body = await renameColumn(...at, change.name, nowMs);
    else if (change.kind !== undefined) ctx.body = await setColumnKind(...at, change.kind, nowMs);
    else if (change.verdicts !== undefined) ctx.body = await setVerdicts(...at, change.verdicts, nowMs);
    else ctx.body = await setFormula(...at, change.formula ?? '', nowMs);
  });
  router.post('/lists/:id/columns/:key/split', async (ctx) => {
    const { by } = parse(BODIES.split, ctx.request.body);
    ctx.body = await splitColumn(db, parseId(ctx.params['id']), ctx.params['key'] ?? '', by, await clock.now());
  });
  router.delete('/lists/:id/columns/:key', async (ctx) => {
    ctx.body = await removeColumn(db, parseId(ctx.params['id']), ctx.params['key'] ?? '', await clock.now());
  });
}

function feedsOfLists(router: Router, { store, clock, log }: ServerParts): void {
  router.put('/lists/:id/feed', async (ctx) => {
    const listId = parseId(ctx.params['id']);
    const choices = parse(BODIES.feed, ctx.request.body);
    const list = await readList(store.db, listId);
    if (!list || list.removedAt !== null) throw noList();
    const now = await clock.now();
    await putFeed(store.db, { listId, ...choices, lookedAt: now });
    // At once, so that a wrong place is told now and not in an hour.
    await lookAt(store, listId, now, log);
    ctx.status = 204;
  });
  router.post('/lists/:id/ask-domains', async (ctx) => {
    ctx.body = { domains: await wantDomains(store.db, parseId(ctx.params['id']), await clock.now()) };
    await announce(store.db, 'people');
  });
  router.delete('/lists/:id/feed', async (ctx) => {
    await removeFeed(store.db, parseId(ctx.params['id']));
    await announce(store.db, 'people');
    ctx.status = 204;
  });
}

function segmentsOfLists(router: Router, { store: { db }, clock }: ServerParts): void {
  router.get('/segments', async (ctx) => {
    ctx.body = await viewSegments(db, await clock.now());
  });
  router.post('/lists/:id/segments', async (ctx) => {
    const { name: called, query: found } = parse(BODIES.segment, ctx.request.body);
    ctx.body = { id: await saveSegment(db, parseId(ctx.params['id']), called, found, await clock.now()) };
  });
  router.patch('/segments/:id', async (ctx) => {
    await changeSegment(db, parseId(ctx.params['id']), parse(BODIES.segmentChange, ctx.request.body));
    ctx.status = 204;
  });
  router.delete('/segments/:id', async (ctx) => {
    await dropSegment(db, parseId(ctx.params['id']));
    ctx.status = 204;
  });
}

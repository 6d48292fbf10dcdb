import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { OutcomeKey } from '@baton/core';
import type {
  KeptAside,
  CellEdit,
  CellsChanged,
  ColumnsArranged,
  FeedChoices,
  FileFormat,
  FillWith,
  ListHead,
  ListView,
  NewColumn,
  PersonRow,
  RemovedList,
  RowChoice,
  RowsAsked,
  SegmentView,
  SetOperation,
} from '@baton/contract';
import type { ColumnKind, ListQuery, SplitBy, Verdict } from '@baton/core';
import { map, type Observable } from 'rxjs';

/** Lists, their rows, columns and segments over HTTP. */
@Injectable({ providedIn: 'root' })
export class ListsService {
  private readonly http = inject(HttpClient);

  lists(): Observable<ListView[]> {
    return this.http.get<ListView[]>('/api/lists');
  }

  removedLists(): Observable<RemovedList[]> {
    return this.http.get<RemovedList[]>('/api/lists/removed');
  }

  list(id: number): Observable<ListHead> {
    return this.http.get<ListHead>(`/api/lists/${id}`);
  }

  rename(id: number, name: string): Observable<unknown> {
    return this.http.patch(`/api/lists/${id}`, { name });
  }

  remove(id: number): Observable<unknown> {
    return this.http.delete(`/api/lists/${id}`);
  }

  restore(id: number): Observable<unknown> {
    return this.http.post(`/api/lists/${id}/restore`, {});
  }

  combine(name: string, how: SetOperation, listIds: number[]): Observable<{ listId: number }> {
    return this.http.post<{ listId: number }>('/api/lists/combine', { name, how, listIds });
  }

  aside(id: number): Observable<KeptAside[]> {
    return this.http.get<KeptAside[]>(`/api/lists/${id}/aside`);
  }

  mendAside(id: number, row: number, address: string): Observable<unknown> {
    return this.http.post(`/api/lists/${id}/aside/${row}/mend`, { address });
  }

  /** Some rows of a query, the first ones if nothing else is said. */
  firstRows(id: number, asked: RowsAsked, limit: number, offset = 0): Observable<PersonRow[]> {
    return this.http.post<PersonRow[]>(`/api/lists/${id}/rows`, { ...asked, offset, limit });
  }

  /** All row ids of a query, in its order. */
  rowIds(id: number, asked: RowsAsked): Observable<Int32Array> {
    return this.http
      .post(`/api/lists/${id}/row-ids`, asked, { responseType: 'arraybuffer' })
      .pipe(map((bytes) => new Int32Array(bytes)));
  }

  rowsById(id: number, rows: number[]): Observable<PersonRow[]> {
    return this.http.post<PersonRow[]>(`/api/lists/${id}/rows-by-id`, { rows });
  }

  /** The values of a column, the most frequent first. */
  values(id: number, asked: RowsAsked, key: string): Observable<{ value: string; n: number }[]> {
    return this.http.post<{ value: string; n: number }[]>(`/api/lists/${id}/values`, { ...asked, key });
  }

  editCells(id: number, cells: CellEdit[]): Observable<CellsChanged> {
    return this.http.post<CellsChanged>(`/api/lists/${id}/cells`, { cells });
  }

  fill(id: number, choice: RowChoice, key: string, fill: FillWith): Observable<CellsChanged> {
    return this.http.post<CellsChanged>(`/api/lists/${id}/fill`, { choice, key, fill });
  }

  /** The rows as a file to keep. */
  file(
    id: number,
    what: { rows: number[] } | { query: ListQuery },
    format: FileFormat,
    outcomes: boolean,
  ): Observable<Blob> {
    return this.http.post(`/api/lists/${id}/file`, { what, format, outcomes }, { responseType: 'blob' });
  }

  removeRows(id: number, choice: RowChoice): Observable<CellsChanged & { stillWrittenTo: number }> {
    return this.http.post<CellsChanged & { stillWrittenTo: number }>(`/api/lists/${id}/remove-rows`, { choice });
  }

  restoreRows(id: number, choice: RowChoice): Observable<CellsChanged> {
    return this.http.post<CellsChanged>(`/api/lists/${id}/restore-rows`, { choice });
  }

  step(id: number, way: 'undo' | 'redo'): Observable<{ label: string }> {
    return this.http.post<{ label: string }>(`/api/lists/${id}/${way}`, {});
  }

  arrange(id: number, columns: ColumnsArranged): Observable<unknown> {
    return this.http.put(`/api/lists/${id}/columns`, { columns });
  }

  addColumn(id: number, column: NewColumn): Observable<unknown> {
    return this.http.post(`/api/lists/${id}/columns`, column);
  }

  changeColumn(
    id: number,
    key: string,
    change: { name: string } | { kind: ColumnKind } | { formula: string } | { verdicts: Record<string, Verdict> },
  ): Observable<unknown> {
    return this.http.patch(`/api/lists/${id}/columns/${encodeURIComponent(key)}`, change);
  }

  splitColumn(id: number, key: string, by: SplitBy): Observable<unknown> {
    return this.http.post(`/api/lists/${id}/columns/${encodeURIComponent(key)}/split`, { by });
  }

  hideOutcomes(id: number, hidden: OutcomeKey[]): Observable<unknown> {
    return this.http.put(`/api/lists/${id}/outcomes`, { hidden });
  }

  removeColumn(id: number, key: string): Observable<unknown> {
    return this.http.delete(`/api/lists/${id}/columns/${encodeURIComponent(key)}`);
  }

  feed(id: number, choices: FeedChoices): Observable<unknown> {
    return this.http.put(`/api/lists/${id}/feed`, choices);
  }

  askDomains(id: number): Observable<{ domains: number }> {
    return this.http.post<{ domains: number }>(`/api/lists/${id}/ask-domains`, {});
  }

  stopFeed(id: number): Observable<unknown> {
    return this.http.delete(`/api/lists/${id}/feed`);
  }

  segments(): Observable<SegmentView[]> {
    return this.http.get<SegmentView[]>('/api/segments');
  }

  saveSegment(id: number, name: string, query: ListQuery): Observable<{ id: number }> {
    return this.http.post<{ id: number }>(`/api/lists/${id}/segments`, { name, query });
  }

  changeSegment(segmentId: number, query: ListQuery): Observable<unknown> {
    return this.http.patch(`/api/segments/${segmentId}`, { query });
  }

  removeSegment(segmentId: number): Observable<unknown> {
    return this.http.delete(`/api/segments/${segmentId}`);
  }
}

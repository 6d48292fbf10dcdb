import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fieldKey } from '../../messages/field-name';
import { renameField } from '../../messages/rename-field';
import { listFields } from '../../messages/template';
import { cellsFromClipboard, cellsToClipboard } from './clipboard';
import { cellWriter, freeName, kindOfCells, numberOf, tagsOf, tickOf, type ColumnKind } from './list-columns';
import { filterWords, type ColumnFilter } from './list-query';
import { rowPatcher } from './patch-row';
import { splitCells } from './split-column';
import { verdictOf } from '../address/verdict';

describe('the kind of a column', () => {
  it.each<[ColumnKind, string, string[]]>([
    ['number', 'size', ['12', '3,5', '1 200', '']],
    ['text', 'post code', ['04109', '10115']],
    ['text', 'phone', ['+353 1 234', '0123']],
    ['date', 'since', ['24.12.2026', '2026-01-05']],
    ['tick', 'visited', ['yes', 'no', 'x', '']],
    ['number', 'flags', ['1', '0', '1']],
    ['tags', 'Tags', ['wine', 'big, red']],
    ['text', 'region', ['North', 'South']],
    ['text', 'nothing', ['', '']],
  ])('is %s for %s', (kind, name, cells) => expect(kindOfCells(name, cells)).toBe(kind));

  it('says how a value is written, and keeps what it cannot read', () => {
    const write = (kind: ColumnKind, cell: string, column: string[] = []) => cellWriter(kind, column)(cell);
    expect(['x', 'Nein', 'maybe '].map((c) => write('tick', c))).toEqual(['yes', '', 'maybe']);
    expect(write('date', '3/4/2026', ['12/25/2026'])).toBe('2026-03-04');
    expect(write('date', 'soon')).toBe('soon');
    expect(write('tags', 'wine; Big,, WINE ,red')).toBe('wine, Big, red');
    expect(write('number', ' 12 ')).toBe('12');
  });

  it('reads numbers, ticks and tags', () => {
    expect(['-4', '1 234,50', '12.5', '1.2.3', 'x', ''].map(numberOf)).toEqual([-4, 1234.5, 12.5, null, null, null]);
    expect(['✓', 'FALSE', '', 'maybe'].map(tickOf)).toEqual([true, false, false, null]);
    expect(tagsOf(' , ')).toEqual([]);
    expect(freeName('Region', [{ key: 'region' }, { key: 'region2' }])).toBe('Region 3');
    expect(freeName('!!', [])).toBe('column');
  });
});

describe('cells on the clipboard', () => {
  it('are read back as they were written, whatever stands in them', () => {
    const row = fc.array(fc.string({ unit: 'grapheme' }), { minLength: 2, maxLength: 4 });
    const rows = fc.array(row, { minLength: 1, maxLength: 5 }).map((all) => all.map((r) => [...r, 'end']));
    fc.assert(
      fc.property(rows, (cells) => {
        expect(cellsFromClipboard(cellsToClipboard(cells))).toEqual(cells);
      }),
    );
  });

  it('are what spreadsheets put there', () => {
    expect(cellsFromClipboard('a\t"b\nc"\td\r\n\t"say ""hi"""\t\r\n')).toEqual([
      ['a', 'b\nc', 'd'],
      ['', 'say "hi"', ''],
    ]);
    expect(cellsFromClipboard('one')).toEqual([['one']]);
    expect(cellsFromClipboard('')).toEqual([['']]);
  });
});

describe('a field that is renamed', () => {
  it.each([
    ['{{ company }}', '{{ Estate name }}'],
    ['{{Company|upcase}}', '{{Estate name|upcase}}'],
    ['{{ firm | default: "company" }} company', '{{ Estate name | default: "company" }} company'],
    ['{% if company and company != "" %}x{% endif %}', '{% if Estate_name and Estate_name != "" %}x{% endif %}'],
    ['{{ region | append: company }}', '{{ region | append: Estate_name }}'],
    ['{{ company.size }}', '{{ Estate_name.size }}'],
    ['{{ other.company }} {{ companion }}', '{{ other.company }} {{ companion }}'],
  ])('is followed in %s', (source, expected) => expect(renameField(source, 'company', 'Estate name')).toBe(expected));

  it('comes back the same when it gets its name back', () => {
    const names = fc.constantFrom('company', 'region', 'given name', 'x');
    const parts = fc.array(
      fc.oneof(
        names.map((n) => `{{ ${n} | default: "company" }}`),
        fc.constantFrom('text company', ' "', '{%- if x -%}{% endif %}'),
      ),
    );
    fc.assert(
      fc.property(parts, (all) => {
        const source = all.join('');
        const there = renameField(source, 'company', 'estate');
        expect(listFields(there).some((f) => fieldKey(f.name) === 'company')).toBe(false);
        expect(renameField(there, 'estate', 'company')).toBe(source);
      }),
    );
  });
});

describe('a column that is split', () => {
  it('has as many parts as the longest value, and loses nothing', () => {
    expect(splitCells(['a, b, c', 'd', ''], { kind: 'separator', separator: ',' })).toEqual([
      ['a', 'b', 'c'],
      ['d', '', ''],
      ['', '', ''],
    ]);
    const cells = fc.array(fc.array(fc.stringMatching(/^[a-z]{1,3}$/), { minLength: 1, maxLength: 15 }));
    fc.assert(
      fc.property(cells, (all) => {
        const parts = splitCells(
          all.map((c) => c.join(';')),
          { kind: 'separator', separator: ';' },
        );
        parts.forEach((p, i) => expect(p.filter((x) => x !== '').join(';')).toBe((all[i] as string[]).join(';')));
      }),
    );
  });

  it('goes by names, and by blanks', () => {
    expect(splitCells(['Ilse van der Meer', 'Bo'], { kind: 'name' })).toEqual([
      ['Ilse', 'van der Meer'],
      ['', ''],
    ]);
    expect(splitCells(['1  Quay Street'], { kind: 'separator', separator: ' ' })).toEqual([['1', 'Quay', 'Street']]);
  });
});

describe('a filter in words', () => {
  const columns = [{ key: 'region', name: 'Region' }];
  it.each<[ColumnFilter, string]>([
    [{ key: 'region', kind: 'among', values: ['North', ''], not: true }, 'Region is not North or blank'],
    [{ key: 'region', kind: 'among', values: ['a', 'b', 'c', 'd'], not: false }, 'Region is a, b or 2 more'],
    [{ key: '@notes', kind: 'among', values: ['no_server'], not: false }, 'notes is no mail server'],
    [
      { key: '@notes', kind: 'among', values: ['written'], not: true, days: 90 },
      'notes is not written to in the last 90 days',
    ],
    [{ key: '@address', kind: 'text', test: 'ends', value: '.example' }, 'address ends with .example'],
    [{ key: 'region', kind: 'number', from: 2, to: null }, 'Region is at least 2'],
    [{ key: 'region', kind: 'date', from: '2026-01-01', to: '2026-02-01' }, 'Region is from 2026-01-01 to 2026-02-01'],
    [{ key: 'region', kind: 'number', from: null, to: 7 }, 'Region is at most 7'],
    [{ key: 'region', kind: 'blank', blank: false }, 'Region is not blank'],
  ])('%j', (filter, words) => expect(filterWords(filter, columns)).toBe(words));
});

describe('what is typed into a row', () => {
  const column = { kind: 'text', hidden: false, formula: null, verdicts: null } as const;
  const columns = [
    { ...column, name: 'mail', key: 'mail', role: 'address' as const },
    { ...column, name: 'country', key: 'country', role: 'time_zone' as const },
    { ...column, name: 'send on', key: 'sendon', role: 'send_on' as const },
    { ...column, name: 'full', key: 'full', role: 'field' as const, formula: '{{ a }}-{{ b }}' },
    { ...column, name: 'a', key: 'a', role: 'field' as const },
    { ...column, name: 'b', key: 'b', role: 'field' as const },
  ];
  const patch = rowPatcher(columns);

  it('gives address, zone, date and what is computed', () => {
    expect(patch({ a: 'x' }, { mail: 'Bo <bo@x.example>', country: 'Portugal', sendon: '2026-12-01', b: 'y' })).toEqual(
      {
        ok: true,
        patch: {
          fields: { mail: 'bo@x.example', country: 'Portugal', sendon: '2026-12-01', b: 'y', full: 'x-y' },
          address: { address: 'bo@x.example', key: 'bo@x.example', domain: 'x.example' },
          zone: 'Europe/Lisbon',
          sendOn: '2026-12-01',
        },
      },
    );
    expect(patch({ country: 'Portugal' }, { country: '', sendon: 'soon' })).toMatchObject({
      patch: { fields: { country: null }, zone: null, sendOn: null },
    });
  });

  it('leaves a formula blank for a row whose values it cannot use, and keeps the rest', () => {
    const zone = { ...column, name: 'zone', key: 'zone', role: 'field' as const };
    const day = { ...zone, name: 'day', key: 'day', formula: '{{ at | date: "%d", zone }}' };
    const at = '2026-11-24T23:30:00Z';
    expect(rowPatcher([zone, day])({ at }, { zone: 'CET+1' })).toEqual({
      ok: true,
      patch: { fields: { zone: 'CET+1' } },
    });
    expect(rowPatcher([zone, day])({ at }, { zone: 'Asia/Tokyo' })).toMatchObject({ patch: { fields: { day: '25' } } });
  });

  it('is refused with a reason', () => {
    expect(patch({}, { mail: 'x' })).toEqual({ ok: false, reason: '“x” has no @ sign' });
    expect(patch({}, { full: 'x' })).toMatchObject({ ok: false, reason: expect.stringContaining('computed') });
    expect(patch({}, { z: 'x' })).toMatchObject({ ok: false, reason: 'There is no column “z”' });
  });
});

describe('what a verifier says', () => {
  it.each<[string, string, Parameters<typeof verdictOf>[1]]>([
    ['use', 'Valid', null],
    ['use', '', null],
    ['leave_out', 'INVALID', null],
    ['leave_out', 'do not mail', null],
    ['ask', 'catch-all', null],
    ['use', ' Catch-All ', { 'catch-all': 'use' }],
    ['ask', 'constructor', {}],
  ])('means %s for %j', (verdict, word, said) => expect(verdictOf(word, said)).toBe(verdict));
});

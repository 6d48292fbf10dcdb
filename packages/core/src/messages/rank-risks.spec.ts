import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { RiskRanking } from './rank-risks';
import { listFields } from './template';

const uses = listFields(
  '{{ given_name | default: "there" }} {{ company }} {{ hectares | default: "a few" }}'.replace(
    'given_name',
    'givenname',
  ),
);
const good = { givenname: 'Ana', company: 'Holm Vines', hectares: '12' };

function rank(rows: Record<string, string>[], most = 20) {
  const ranking = new RiskRanking(uses, most);
  rows.forEach((row, i) => ranking.take(i, row));
  return ranking;
}
const worst = (row: Record<string, string>) =>
  rank([{ ...good, ...row }])
    .ranked()[0]
    ?.reasons.filter((r) => r.risk !== 'longest')[0]?.words;

describe('RiskRanking', () => {
  it.each([
    [{ company: '' }, 'company is blank and has no fallback'],
    [{ hectares: '' }, 'hectares is blank: “a few”'],
    [{ givenname: 'BRUNO' }, 'givenname is in capitals: “BRUNO”'],
    [{ givenname: 'bruno' }, 'givenname is in small letters: “bruno”'],
    [{ givenname: 'Bruno2' }, 'givenname has digits: “Bruno2”'],
    [{ givenname: '12' }, 'givenname is not a name: “12”'],
    [{ givenname: 'Ana (new)' }, 'givenname has signs that names have not: “Ana (new)”'],
    [{ company: 'Ridge Wein GmbH' }, 'company ends in its legal form: “Ridge Wein GmbH”'],
    [{ company: 'MÃ¼ller' }, 'company looks broken: “MÃ¼ller”'],
    [{ company: 'Salt &amp; Sons' }, 'company looks broken: “Salt &amp; Sons”'],
    [{ givenname: 'Ελένη' }, 'givenname is in other letters: “Ελένη”'],
    [{ company: ' Salt  Estate' }, 'company has spaces too many'],
  ])('says of %j: %s', (row, words) => expect(worst(row as Record<string, string>)).toBe(words));

  it('takes a blank for what its writer made of it', () => {
    const judged = (source: string) => {
      const ranking = new RiskRanking(listFields(source), 5);
      ranking.take(0, { b: 'Holm' });
      return ranking.ranked()[0]?.reasons.map((r) => r.words)[0];
    };
    expect(judged('{{ line | default: "" }}{{ b }}')).toBe('the longest values');
    expect(judged('{% if a %}Hello {{ a }}{% endif %}{{ b }}')).toBe('a is blank');
    expect(judged('{% if a %}{{ a }}{% endif %} {{ a }}')).toBe('a is blank and has no fallback');
  });

  it('finds nothing wrong with ordinary values', () => {
    expect(worst({})).toBeUndefined();
    expect(worst({ givenname: 'Nguyễn Thị Ánh', company: 'Quinta do Vale' })).toBeUndefined();
  });

  it('shows one of each kind before a second of any', () => {
    const rows = [
      ...Array.from({ length: 10 }, () => ({ ...good, company: '' })),
      { ...good, givenname: 'BRUNO' },
      { ...good, company: 'Salt Estate BV' },
    ];
    const ranked = rank(rows).ranked();
    expect(ranked.slice(0, 3).map((r) => r.index)).toEqual([0, 10, 11]);
    expect(rank(rows).counts.get('empty')).toBe(10);
  });

  it('keeps the worst of many, whatever their order', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('', 'BRUNO', 'Ana', 'bruno', '12'), { maxLength: 200 }), (names) => {
        const rows = names.map((givenname) => ({ ...good, givenname }));
        const few = new Set(
          rank(rows, 5)
            .ranked()
            .map((r) => r.index),
        );
        const trouble = names.flatMap((n, i) => (n === '12' ? [i] : []));
        return trouble.slice(0, 5).every((i) => few.has(i));
      }),
    );
  });

  it('names the longest and the shortest', () => {
    const ranked = rank([
      good,
      { ...good, company: 'The Very Long Name Of An Old Estate' },
      { ...good, company: 'Ox' },
    ]).ranked();
    expect(ranked.map((r) => [r.index, r.reasons.at(-1)?.risk])).toEqual([
      [1, 'longest'],
      [2, 'shortest'],
    ]);
  });

  it('finds values under their usual names, as the message itself does', () => {
    const ranking = new RiskRanking(listFields('Hello {{ first name }} of {{ Firma }}'), 5);
    ranking.take(0, { givenname: 'Ana', company: 'Holm' });
    ranking.take(1, { givenname: 'BRUNO', company: 'Salt Ltd' });
    expect(ranking.counts.get('empty')).toBeUndefined();
    expect([...ranking.counts.keys()].sort()).toEqual(['capitals', 'legal_form']);
  });
});

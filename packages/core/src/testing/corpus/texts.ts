/** A text with fields as somebody writes it, and what is true of it. */
export interface TextCase {
  source: string;
  kind?: 'html';
  values?: Record<string, string>;
  /** What it makes of the values. */
  text?: string;
  /** Fields that are blank and have no fallback. */
  blanks?: readonly string[];
  /** What each sentence about a value says. */
  faults?: readonly string[];
  /** What the sentence says by which the text is refused as it is written. */
  refused?: string;
}

const ODILE = { givenname: 'Odile', familyname: 'Marchetti', company: 'Marchetti Cider', town: 'Carrow Bay' };

const made = (source: string, text: string, values: Record<string, string> = ODILE): TextCase => ({
  source,
  values,
  text,
});
const blank = (
  source: string,
  text: string,
  blanks: readonly string[],
  values: Record<string, string> = ODILE,
): TextCase => ({ source, values, text, blanks });
const html = (source: string, text: string, values: Record<string, string> = ODILE): TextCase => ({
  source,
  kind: 'html',
  values,
  text,
});
const refused = (source: string, words: string): TextCase => ({ source, refused: words });
const unusable = (source: string, values: Record<string, string>, ...faults: string[]): TextCase => ({
  source,
  values,
  faults,
});

/** Fields by the names that columns have. */
const NAMES: readonly TextCase[] = [
  made('Dear {{ given name }},', 'Dear Odile,'),
  made('Dear {{given_name}},', 'Dear Odile,'),
  made('Dear {{ Given Name }} {{FAMILY NAME}},', 'Dear Odile Marchetti,'),
  made('{{ First Name }} {{ Last Name }}', 'Odile Marchetti'),
  made('{{ Vorname }} {{ Nachname }}', 'Odile Marchetti'),
  made('{{ prénom }} {{ Nom de famille }}', 'Odile Marchetti'),
  made('{{ Jméno }} {{ Příjmení }}', 'Odile Marchetti'),
  made('{{ Имя }} {{ Фамилия }}', 'Odile Marchetti'),
  made('{{ Όνομα }} {{ Επώνυμο }}', 'Odile Marchetti'),
  made('{{ Firma }} / {{ société }} / {{ Empresa }}', 'Marchetti Cider / Marchetti Cider / Marchetti Cider'),
  made('{{ Straße }}', 'Am Kai 4', { straße: 'Am Kai 4' }),
  made('{{ Größe (cm) }}', '12', { größecm: '12' }),
  made('{{ № заказа }}', '7', { noзаказа: '7' }),
  made('{{ 会社名 }}', 'Tidewater', { 会社名: 'Tidewater' }),
  made('{{ Price, € }}', '12', { price: '12' }),
  made('{{ Price / t }} {{ Price * 2 }}', '12 24', { pricet: '12', price2: '24' }),
  made('{{ E-Mail }}', 'o@x.example', { email: 'o@x.example' }),
  made('{{ Q1 #2 @ home }}', 'x', { q12home: 'x' }),
  made('{{ % share }}', '5', { share: '5' }),
  made('{{ 2026 }} {{ 1st }}', 'a b', { '2026': 'a', '1st': 'b' }),
  made("{{ Grower's note }}", 'ripe', { growersnote: 'ripe' }),
  made('{{ Grower’s note }}', 'ripe', { growersnote: 'ripe' }),
  made('{{ Is it “organic”? }}', 'yes', { isitorganic: 'yes' }),
  made('{{ if }} {{ for }} {{ end }} {{ case }}', '1 2 3 4', { if: '1', for: '2', end: '3', case: '4' }),
  made('{{ blank }} {{ empty }} {{ nil }} {{ true }}', '1 2 3 4', { blank: '1', empty: '2', nil: '3', true: '4' }),
  made('{{ and }} {{ or }} {{ contains }} {{ in }}', '1 2 3 4', { and: '1', or: '2', contains: '3', in: '4' }),
  made('{{ default }} {{ with default | default: "x" }}', '1 x', { default: '1' }),
  made('{{company}}{{company}}', 'Marchetti CiderMarchetti Cider'),
  made('{{\n  company\n}}', 'Marchetti Cider'),
  made('{{-company-}} {{- town -}}', 'Marchetti CiderCarrow Bay'),
  made('{{ company }}', 'a {{ town }} b', { company: 'a {{ town }} b', town: 'no' }),
  made('{{ company }}', '{% if a %}', { company: '{% if a %}' }),
];

/** Blank values and what takes their place. */
const BLANKS: readonly TextCase[] = [
  made('Hi {{ given name | default: "there" }}', 'Hi there', {}),
  made("Hi {{ given name | default: 'there' }}", 'Hi there', { givenname: '   ' }),
  made('Hi {{ given name | default: “there” }}', 'Hi there', {}),
  made('Hi {{ City/Town | default: "your town" | upcase }}', 'Hi YOUR TOWN', {}),
  made('Hi {{ City/Town | upcase | default: "your town" }}', 'Hi CARROW BAY', { citytown: 'Carrow Bay' }),
  made('{{ a | default: b }}', 'two', { b: 'two' }),
  made('{{ a | default: "" }}!', '!', {}),
  made('{{ nickname | default: given name }}', 'Odile'),
  made('{{ nickname | default: given name }}', 'Di', { nickname: 'Di', givenname: 'Odile' }),
  blank('{{ nickname | default: given name }}', '', ['nickname'], {}),
  made('{{ 0 }}', '0', { '0': '0' }),
  blank('Dear {{ given name }}', 'Dear ', ['given name'], {}),
  blank('{{ a }}{{ b }}{{ a }}', '', ['a', 'b'], {}),
  blank('{{ a | upcase }}', '', ['a'], {}),
  blank('{{ a | append: "x" }}', 'x', ['a'], {}),
  blank('{% if b %}{{ a }}{% endif %}', '', [], {}),
  blank('{% if b %}{{ a }}{% endif %}', '', ['a'], { b: '1' }),
  blank('{% unless b %}{{ a }}{% endunless %}', '', ['a'], {}),
  blank('{% capture x %}{{ a }}{% endcapture %}{{ x }}', '', ['a'], {}),
  blank('{% comment %}{{ a }}{% endcomment %}', '', [], {}),
  blank('{% raw %}{{ a }}{% endraw %}', '{{ a }}', [], {}),
  blank('{{ constructor }}', '', ['constructor'], {}),
  blank('{{ toString }}{{ valueOf }}', '', ['toString', 'valueOf'], {}),
];

/** Conditions and loops. */
const CONDITIONS: readonly TextCase[] = [
  made('{% if given name %}Dear {{ given name }}{% else %}Hello{% endif %}', 'Dear Odile'),
  made('{% if given name %}Dear{% else %}Hello{% endif %}', 'Hello', {}),
  made('{% if given name == "Odile" %}yes{% endif %}', 'yes'),
  made('{% if given name = "Odile" %}yes{% endif %}', 'yes'),
  made('{% if given name == “Odile” %}yes{% endif %}', 'yes'),
  made('{% if given_name != "Odile" %}no{% else %}yes{% endif %}', 'yes'),
  made('{% if Vorname == "Odile" %}yes{% endif %}', 'yes'),
  made('{% if company contains "Cider" %}yes{% endif %}', 'yes'),
  made('{% if City/Town contains "Bay" or company %}yes{% endif %}', 'yes', { citytown: 'Carrow Bay' }),
  made('{% if a and b %}both{% elsif a %}one{% else %}none{% endif %}', 'one', { a: '1' }),
  made('{% if a == blank %}blank{% endif %}{% if a == empty %}empty{% endif %}', 'blankempty', {}),
  made('{% if a == nil %}nil{% endif %}', 'nil', {}),
  made('{% unless a %}not{% endunless %}', 'not', {}),
  made('{% unless 2nd name == "Jo" %}not{% else %}Jo{% endunless %}', 'Jo', { '2ndname': 'Jo' }),
  made('{% if acres > 9 %}more{% endif %}', 'more', { acres: '10' }),
  made('{% if acres > 9 %}more{% endif %}', 'more', { acres: '1 200,50' }),
  made('{% if acres > 9 %}more{% endif %}', 'more', { acres: '1\u202f200,50' }),
  made('{% if acres > 9 %}more{% endif %}', 'more', { acres: "1'200.50" }),
  made('{% if acres >= 1200.5 %}more{% endif %}', 'more', { acres: '1.200,50' }),
  made('{% if acres < 9 %}less{% else %}not{% endif %}', 'not', { acres: '10' }),
  made('{% if acres == 9 %}nine{% endif %}', 'nine', { acres: '9,0' }),
  made('{% if acres > 9 %}more{% else %}not{% endif %}', 'not', { acres: 'several' }),
  made('{% if acres > 9 %}more{% else %}not{% endif %}', 'not', {}),
  made('{% if a > b %}more{% endif %}', 'more', { a: '10', b: '9' }),
  made('{% case crop %}{% when "vines" %}V{% when "hops", "malt" %}H{% else %}?{% endcase %}', 'H', { crop: 'malt' }),
  made('{% case Main crop %}{% when "vines" or "kelp" %}V{% endcase %}', 'V', { maincrop: 'kelp' }),
  made('{% if a %}{% if b %}ab{% else %}a{% endif %}{% endif %}', 'a', { a: '1' }),
  made('{% for i in (1..3) %}{{ i }}{% unless forloop.last %}, {% endunless %}{% endfor %}', '1, 2, 3'),
  made('{% assign crops = crops | split: "; " %}{% for c in crops %}[{{ c }}]{% endfor %}', '[vines][kelp]', {
    crops: 'vines; kelp',
  }),
  made('{% assign hi = "Hi" %}{{ hi }} {{ given name }}', 'Hi Odile'),
  made('a\n{%- if given name -%}\n b \n{%- endif -%}\nc', 'abc'),
];

/** What filters make. */
const FILTERS: readonly TextCase[] = [
  made('{{ given name | upcase }} {{ given name | downcase }}', 'ODILE odile'),
  made('{{ company | replace: "Cider", "Perry" }}', 'Marchetti Perry'),
  made('{{ company | truncate: 12 }}', 'Marchetti...'),
  made('{{ company | split: " " | first }}', 'Marchetti'),
  made('{{ a | strip | capitalize }}', 'Ripe', { a: ' ripe ' }),
  made('{{ a | date: "%d %B %Y" }}', '01 December 2026', { a: '01.12.2026' }),
  made('{{ a | date: "%d %B %Y" }}', '24 December 2026', { a: '12/24/2026' }),
  made('{{ a | date: "%d %B %Y" }}', '24 December 2026', { a: '24. Dezember 2026' }),
  made('{{ a | date: "%A" }}', 'Thursday', { a: '2026-12-24' }),
  made('{{ a | date: "%d.%m.%Y" }}', '05.01.2027', { a: '5 janvier 2027' }),
  made('{{ a | date: "%d.%m.%Y" }}', '05.01.2027', { a: 'Di, 5.1.2027' }),
  made('{{ a | date: "%H:%M", "Europe/Berlin" }}', '10:30', { a: '2026-12-24T09:30:00Z' }),
  made('{{ a | plus: 1 }}', '3', { a: '2' }),
  made('{{ a | escape }}', '&lt;b&gt;', { a: '<b>' }),
  made('{{ a | url_encode }}', 'a+b%26c', { a: 'a b&c' }),
  made('{{ a | raw }}', '<b>', { a: '<b>' }),
];

/** Values in HTML. */
const PAGES: readonly TextCase[] = [
  html('<p>{{ a }}</p>', '<p>&#60;b&#62; &#38; &#34;c&#34;</p>', { a: '<b> & "c"' }),
  html('<p>{{ a }}</p>', '<p>one<br>\ntwo</p>', { a: 'one\ntwo' }),
  html('<p>{{ a | raw }}</p>', '<p>&#60;script&#62;</p>', { a: '<script>' }),
  html('<p>{{ a | default: "<b>x</b>" }}</p>', '<p>&#60;b&#62;x&#60;/b&#62;</p>', {}),
  html('<a href="https://x.example/?c={{ a | url_part }}">', '<a href="https://x.example/?c=a%20b%26c">', {
    a: 'a b&c',
  }),
  html('<a href="{{ a | url_whole }}">', '<a href="https://x.example/a?b=1&#38;c=2">', {
    a: 'https://x.example/a?b=1&c=2',
  }),
  html('<a href="{{ a | url_whole }}">', '<a href="https://x.example/">', { a: 'x.example/' }),
  html('<a href="mailto:{{ a | url_mailto }}">', '<a href="mailto:a%2Bb@x.example">', { a: 'a+b@x.example' }),
  html('<a href="mailto:{{ a | url_mailto }}">', '<a href="mailto:a%3Fbcc%3Dc@x.example">', { a: 'a?bcc=c@x.example' }),
  html('<a href="tel:{{ a | url_tel }}">', '<a href="tel:+3512100">', { a: '+351 21 00' }),
  {
    ...unusable('<a href="{{ a | url_whole }}">', { a: 'javascript:alert(1)' }, 'no address that a link may lead to'),
    kind: 'html',
  },
  {
    ...unusable('<a href="{{ a | url_whole }}">', { a: 'data:text/html,x' }, 'no address that a link may lead to'),
    kind: 'html',
  },
  {
    ...unusable('<a href="{{ a | url_whole }}">', { a: ' JaVaScRiPt:x' }, 'no address that a link may lead to'),
    kind: 'html',
  },
  {
    ...unusable('<a href="{{ a | url_whole }}">', { a: 'vbscript:x' }, 'no address that a link may lead to'),
    kind: 'html',
  },
  {
    ...unusable('<a href="{{ a | url_whole }}">', { a: 'file:///etc/passwd' }, 'no address that a link may lead to'),
    kind: 'html',
  },
];

/** Values that a text cannot use. */
const UNUSABLE: readonly TextCase[] = [
  unusable('{{ a | date: "%H", zone }}', { a: '2026-12-24T09:30:00Z', zone: 'CET+1' }, 'CET+1 is no time zone'),
  unusable('{{ a | date: "%H", zone }}', { a: '2026-12-24T09:30:00Z', zone: 'Mars/Base' }, 'Mars/Base is no time zone'),
  unusable('{% for i in (1..100000000) %}x{% endfor %}', {}, 'too long or grows too large'),
  unusable(
    '{% assign a = "xxxxxxxxxx" %}{% for i in (1..40) %}{% assign a = a | append: a %}{% endfor %}',
    {},
    'too long or grows too large',
  ),
  unusable('{% include "a" %}', {}, 'could not be filled in'),
];

/** Texts that are refused as they are written, with the true cause. */
const REFUSED: readonly TextCase[] = [
  refused('Hi {{ given name', 'is not closed with }}'),
  refused('Hi {{ given name }', 'is not closed with }}'),
  refused('Hi {{ given name, and {{ company }}', 'is not closed with }}'),
  refused('{% if a %}x', 'is not closed'),
  refused('{% if a %}x{% endunless %}', 'endunless'),
  refused('x{% endif %}', 'endif'),
  refused('{% for a in b %}x', 'is not closed'),
  refused('{% else %}', 'else'),
  refused('{% hello %}', 'hello'),
  refused('{{ a | shout }}', 'shout'),
  refused('{{ a || b }}', 'expected filter name'),
  refused('{{ company.first }}', 'company is text and has no part “first”'),
  refused('{{ }}', 'nothing is in it'),
  refused('{% if %}x{% endif %}', 'nothing is in it'),
  refused('{% if a == %}x{% endif %}', 'nothing stands behind “==”'),
  refused('{% if == "x" %}x{% endif %}', 'nothing stands before “==”'),
  refused('{% if a is "b" %}x{% endif %}', 'nothing compares “a is” and "b"'),
  refused('{% if City/Town equals "Carrow Bay" %}x{% endif %}', 'nothing compares'),
  refused('{% unless a contain "b" %}x{% endunless %}', 'nothing compares'),
  refused('{% if a && b %}x{% endif %}', 'write “and” or “or”'),
  refused('{% if a || b %}x{% endif %}', 'write “and” or “or”'),
  refused('{% if a == "b %}x{% endif %}', 'not closed'),
  refused('{% if a and %}x{% endif %}', 'nothing stands behind “and”'),
  refused('{% if a %}x{% elsif b = %}y{% endif %}', 'nothing stands behind “=”'),
  refused('{% case a %}{% when %}{% endcase %}', 'when'),
  refused('{% raw %}{{ a }}', 'raw'),
  refused('{% comment %}x', 'comment'),
  refused('{{ a }}'.repeat(3001), 'more than 3,000 fields'),
  refused('x'.repeat(500_001), 'more than 500,000 letters'),
];

/** Texts in which braces mean nothing, or what another program's would. */
const PLAIN: readonly TextCase[] = [
  made('{ given name } stays, } and { too', '{ given name } stays, } and { too'),
  made('[First Name] and %FIRSTNAME% stay', '[First Name] and %FIRSTNAME% stay'),
  made('a } } b { { c', 'a } } b { { c'),
  made('100 % of it', '100 % of it'),
  made('line\r\nline', 'line\r\nline'),
  made('\ufeffHi {{ given name }}', '\ufeffHi Odile'),
  made('👩‍🌾 {{ given name }} 🍎', '👩‍🌾 Odile 🍎'),
  made('{{ "{{" }} {{ "}}" }}', '{{ }}'),
  made('{{ "text" }} {{ \'text\' }}', 'text text', {}),
  made('', ''),
  refused('{{{ given name }}}', '“{ given name” is no field'),
];

export const TEXTS_OF_OTHERS: readonly TextCase[] = [
  ...NAMES,
  ...BLANKS,
  ...CONDITIONS,
  ...FILTERS,
  ...PAGES,
  ...UNUSABLE,
  ...REFUSED,
  ...PLAIN,
];

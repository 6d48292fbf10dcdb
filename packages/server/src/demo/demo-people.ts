import { hash32, seededRandom, writeCsv, type Random } from '@baton/core';

const GIVEN =
  'Odile Bruno Ilse Mina Tam Priya Lea Noor Sam Jo Karl Ada Emil Greta Hugo Ines Jonas Kira Lars Maud Nils Olga Pau Rosa Sven Tilda Ugo Vera Wim Yara Zeno Aoife Bram Cleo Dara Elif Finn Gwen Heike Ivo Jana Kofi Lucía José Zoë Søren Małgorzata Björn Ánh Li'.split(
    ' ',
  );
const FAMILY =
  'Marchetti Salt Fenwick Osei Holm Brandt Vidal Oduya Aster Duarte|van der Meer|Lindqvist|Moreau|Keane|Okafor|Reyl|Aldrich|Haas|Petrov|Nakata|Silva|Novak|Byrne|Castell|Dufour|Engel|Farrow|Grieg|Hale|Ibsen|Jansen|Koval|Lund|Mercer|Nolan|Orr|Pike|Quist|Rask|Stroud|Thorne|Umar|Voss|Wray|Yates|Zeller|García|Łukasik|Müller|O’Dea'.split(
    /[ |](?!der|Meer)/,
  );
const REGIONS = ['North', 'South', 'West', 'Islands'];
const ZONES = ['Europe/Dublin', 'Europe/Dublin', 'Europe/Paris', 'Europe/Berlin', 'Europe/Lisbon', ''];

interface Kind {
  file: string;
  seed: string;
  people: number;
  header: string[];
  first: string[];
  second: string[];
  figure: [least: number, most: number];
}

/** The three lists, as a colleague would send them: each with headers of its own. */
export const KINDS: Record<'vineyards' | 'gardens' | 'orchards', Kind> = {
  vineyards: {
    file: 'north-coast-vineyards.csv',
    seed: 'vines',
    people: 326,
    header: ['Prénom', 'Nom', 'Courriel', 'Domaine', 'Région', 'Surface', 'Time zone'],
    first:
      'Cedar Ridge Salt Meer Quinta Coast Holm Hillside Slate Harbour Mistral Tern Juniper Lark Heron Chalk Amber'.split(
        ' ',
      ),
    second: ['Vineyard', 'Estate', 'Cellars', 'Vines', 'Wine BV', 'Wein GmbH', '& Daughters', 'Growers'],
    figure: [2, 80],
  },
  gardens: {
    file: 'garden-centres.csv',
    seed: 'gardens',
    people: 184,
    header: ['First name', 'Last name', 'Email', 'Company', 'Region', 'Greenhouses', 'tz'],
    first: 'Harbour Elm Willow Fern Rowan Clover Thistle Bramble Poppy Meadow Orchard Linden Hazel Ivy Moss'.split(' '),
    second: ['Lane Garden Centre', 'Nurseries', 'Plants', 'Garden Supplies Ltd', 'Seeds & Soil'],
    figure: [1, 14],
  },
  orchards: {
    file: 'cider-orchards.csv',
    seed: 'orchards',
    people: 95,
    header: ['Vorname', 'Nachname', 'E-Mail', 'Firma', 'Region', 'Trees', 'Zeitzone'],
    first: 'Russet Pippin Bittersweet Old Mill Stone Crow Badger High Low Green Kings Long'.split(' '),
    second: ['Cider', 'Orchards', 'Cider Works', 'Fruit Farm', 'Press'],
    figure: [60, 3000],
  },
};

/** One list as CSV, the same every time; with the odd blank, shouted or doubled cell that real lists have. */
export function demoCsv(kind: Kind): string {
  const random = seededRandom(hash32(kind.seed));
  const pick = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)] as T;
  const taken = new Set<string>();
  const rows: string[][] = [];
  while (rows.length < kind.people) {
    const given = pick(GIVEN);
    const family = pick(FAMILY);
    const company = `${pick(kind.first)} ${pick(kind.second)}`;
    const address = `${plain(given)}.${plain(family)}@${plain(company.replace(/ (?:BV|GmbH|Ltd)$/, ''))}.example`;
    if (taken.has(address)) continue;
    taken.add(address);
    const [least, most] = kind.figure;
    const figure = String(least + Math.floor(random() * (most - least)));
    rows.push(blemish(random, [given, family, address, company, pick(REGIONS), figure, pick(ZONES)]));
  }
  const spoilt = [
    ['Wil', 'Tern', 'wil.tern@', 'Tern Press', 'West', '12', ''],
    ['Ada', 'Orr', 'ada.orr at slate.example', 'Slate Growers', 'South', '7', ''],
    [...(rows[4] as string[])],
  ];
  return writeCsv([kind.header, ...rows, ...spoilt]);
}

function blemish(random: Random, row: string[]): string[] {
  const draw = random();
  const [given, family, address, company, ...rest] = row as [string, string, string, string, ...string[]];
  if (draw < 0.03) return [given, family, address, '', ...rest];
  if (draw < 0.05) return [given.toUpperCase(), family.toUpperCase(), address, company, ...rest];
  if (draw < 0.07) return ['', '', `info@${address.split('@')[1]}`, company, ...rest];
  return row;
}

function plain(text: string): string {
  return text
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replaceAll('ø', 'o')
    .replaceAll('ł', 'l')
    .replaceAll('Ł', 'L')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');
}

import { encoded, lines, utf8, type FileCase } from './file-case';

/** Headers in a language: given name, family name, company, address, job title, city, send on, copy to, blind copy. */
const LANGUAGES: readonly (readonly [
  language: string,
  header: string,
  given: readonly [string, string],
  family: readonly [string, string],
])[] = [
  [
    'English',
    'First Name;Last Name;Organization;Email Address;Job Title;City;Send Date;CC;BCC',
    ['Ana', 'Bo'],
    ['Reyes', 'Salt'],
  ],
  [
    'English, other words',
    'Forename;Surname;Company Name;E-Mail;Role;Town;Send On;Copy to;Blind copy',
    ['Ana', 'Bo'],
    ['Reyes', 'Salt'],
  ],
  [
    'German',
    'Vorname;Nachname;Firma;E-Mail;Position;Ort;Versanddatum;Kopie an;Blindkopie',
    ['Jörg', 'Änne'],
    ['Weiß', 'Öhler'],
  ],
  [
    'German, of an address book',
    'Vorname;Nachname;Unternehmen;E-Mail-Adresse;Funktion;Stadt;Senden am;Kopie;Blindkopie an',
    ['Jörg', 'Änne'],
    ['Weiß', 'Öhler'],
  ],
  [
    'French',
    'Prénom;Nom;Société;Adresse e-mail;Fonction;Ville;Date d’envoi;Copie à;Copie cachée',
    ['Zoë', 'François'],
    ['Gagné', 'L’Hôte'],
  ],
  [
    'French, other words',
    'Prénom;Nom de famille;Entreprise;Courriel;Poste;Ville;Envoyer le;Cc;Cci',
    ['Zoë', 'François'],
    ['Gagné', 'L’Hôte'],
  ],
  [
    'Spanish',
    'Nombre;Apellidos;Empresa;Correo electrónico;Cargo;Ciudad;Fecha de envío;Con copia a;Copia oculta',
    ['José', 'Begoña'],
    ['Núñez Salas', 'Ortiz Peña'],
  ],
  [
    'Italian',
    'Nome;Cognome;Azienda;Indirizzo e-mail;Ruolo;Città;Data di invio;Copia a;Copia nascosta',
    ['Niccolò', 'Lucia'],
    ['Marchetti', 'D’Angelo'],
  ],
  [
    'Portuguese',
    'Nome;Apelido;Empresa;Endereço de e-mail;Cargo;Cidade;Data de envio;Com cópia;Cópia oculta',
    ['João', 'Inês'],
    ['Conceição', 'Araújo'],
  ],
  [
    'Portuguese of Brazil',
    'Primeiro nome;Sobrenome;Empresa;E-mail;Função;Cidade;Enviar em;Cópia para;Cco',
    ['João', 'Inês'],
    ['Conceição', 'Araújo'],
  ],
  [
    'Dutch',
    'Voornaam;Achternaam;Bedrijf;E-mailadres;Functie;Plaats;Verzenddatum;Kopie aan;Blinde kopie',
    ['Anneke', 'Loïs'],
    ['de Vries', 'van der Meer'],
  ],
  [
    'Swedish',
    'Förnamn;Efternamn;Företag;E-postadress;Befattning;Ort;Skickas den;Kopia till;Hemlig kopia',
    ['Åsa', 'Örjan'],
    ['Sjögren', 'Ek'],
  ],
  [
    'Danish',
    'Fornavn;Efternavn;Virksomhed;E-mail;Stilling;By;Afsendelsesdato;Kopi til;Skjult kopi',
    ['Bjørn', 'Åse'],
    ['Sørensen', 'Kær'],
  ],
  [
    'Norwegian',
    'Fornavn;Etternavn;Bedrift;E-postadresse;Stilling;Sted;Sendes den;Kopi;Blindkopi',
    ['Bjørn', 'Åse'],
    ['Ødegård', 'Lie'],
  ],
  [
    'Finnish',
    'Etunimi;Sukunimi;Yritys;Sähköpostiosoite;Tehtävänimike;Kaupunki;Lähetyspäivä;Kopio;Piilokopio',
    ['Päivi', 'Väinö'],
    ['Mäkelä', 'Yrjönen'],
  ],
  [
    'Polish',
    'Imię;Nazwisko;Firma;Adres e-mail;Stanowisko;Miasto;Data wysyłki;DW;UDW',
    ['Łukasz', 'Żaneta'],
    ['Świątek', 'Zieliński'],
  ],
  [
    'Czech',
    'Jméno;Příjmení;Společnost;E-mailová adresa;Pozice;Město;Datum odeslání;Kopie;Skrytá kopie',
    ['Jiří', 'Šárka'],
    ['Dvořák', 'Žižková'],
  ],
  [
    'Slovak',
    'Meno;Priezvisko;Spoločnosť;E-mail;Pozícia;Mesto;Dátum odoslania;Kópia;Skrytá kópia',
    ['Ľuboš', 'Zuzana'],
    ['Kováč', 'Hĺbková'],
  ],
  [
    'Hungarian',
    'Keresztnév;Vezetéknév;Cég;E-mail cím;Beosztás;Város;Küldés dátuma;Másolat;Titkos másolat',
    ['Ákos', 'Tünde'],
    ['Szőke', 'Nagy'],
  ],
  [
    'Romanian',
    'Prenume;Nume;Companie;Adresă de e-mail;Funcție;Oraș;Data trimiterii;Copie;Copie ascunsă',
    ['Ștefan', 'Ilinca'],
    ['Țurcanu', 'Ionescu'],
  ],
  [
    'Bulgarian',
    'Име;Фамилия;Фирма;Имейл;Длъжност;Град;Дата на изпращане;Копие до;Скрито копие',
    ['Иван', 'Мария'],
    ['Петров', 'Стоянова'],
  ],
  [
    'Russian',
    'Имя;Фамилия;Компания;Электронная почта;Должность;Город;Дата отправки;Копия;Скрытая копия',
    ['Иван', 'Мария'],
    ['Петров', 'Ёлкина'],
  ],
  [
    'Ukrainian',
    'Ім’я;Прізвище;Компанія;Електронна пошта;Посада;Місто;Дата надсилання;Копія;Прихована копія',
    ['Їжак', 'Олена'],
    ['Гнатюк', 'Швець'],
  ],
  [
    'Greek',
    'Όνομα;Επώνυμο;Εταιρεία;Διεύθυνση email;Θέση;Πόλη;Ημερομηνία αποστολής;Κοινοποίηση;Κρυφή κοινοποίηση',
    ['Ελένη', 'Γιώργος'],
    ['Παππά', 'Νικολάου'],
  ],
  [
    'Turkish',
    'Ad;Soyad;Şirket;E-posta adresi;Unvan;Şehir;Gönderim tarihi;Bilgi;Gizli kopya',
    ['Ayşe', 'Çağla'],
    ['Yılmaz', 'Öztürk'],
  ],
  [
    'Croatian',
    'Ime;Prezime;Tvrtka;E-pošta;Radno mjesto;Grad;Datum slanja;Kopija;Skrivena kopija',
    ['Željka', 'Ivan'],
    ['Horvat', 'Babić'],
  ],
  [
    'Slovenian',
    'Ime;Priimek;Podjetje;E-poštni naslov;Delovno mesto;Kraj;Datum pošiljanja;Kopija;Skrita kopija',
    ['Žiga', 'Mojca'],
    ['Novak', 'Kos'],
  ],
  [
    'Serbian',
    'Име;Презиме;Предузеће;Е-пошта;Радно место;Град;Датум слања;Копија;Скривена копија',
    ['Јелена', 'Ђорђе'],
    ['Јовић', 'Њежић'],
  ],
  [
    'Lithuanian',
    'Vardas;Pavardė;Įmonė;El. paštas;Pareigos;Miestas;Siuntimo data;Kopija;Slapta kopija',
    ['Rūta', 'Jonas'],
    ['Žukauskas', 'Šimkus'],
  ],
  [
    'Latvian',
    'Vārds;Uzvārds;Uzņēmums;E-pasts;Amats;Pilsēta;Nosūtīšanas datums;Kopija;Diskrētā kopija',
    ['Jānis', 'Ilze'],
    ['Bērziņš', 'Ozola'],
  ],
  [
    'Estonian',
    'Eesnimi;Perekonnanimi;Ettevõte;E-posti aadress;Ametikoht;Linn;Saatmise kuupäev;Koopia;Pimekoopia',
    ['Ülle', 'Mart'],
    ['Tamm', 'Õunapuu'],
  ],
  [
    'Catalan',
    'Nom;Cognoms;Empresa;Correu electrònic;Càrrec;Ciutat;Data d’enviament;Còpia;Còpia oculta',
    ['Núria', 'Pol'],
    ['Puig i Ferrer', 'Sala'],
  ],
  [
    'Icelandic',
    'Skírnarnafn;Eftirnafn;Fyrirtæki;Netfang;Starfsheiti;Staður;Sendingardagur;Afrit;Falið afrit',
    ['Þóra', 'Björk'],
    ['Jónsdóttir', 'Ægisson'],
  ],
  ['Japanese', '名;姓;会社名;メールアドレス;役職;市区町村;送信日;CC;BCC', ['花子', '太郎'], ['山田', '鈴木']],
  ['Chinese', '名字;姓氏;公司;电子邮件;职位;城市;发送日期;抄送;密送', ['小明', '丽'], ['王', '李']],
];

const ROLES = ['given_name', 'family_name', 'company', 'address', 'title', 'field', 'send_on', 'cc', 'bcc'] as const;

const LANGUAGE_FILES: FileCase[] = LANGUAGES.map(([language, header, given, family]) => ({
  name: `headers in ${language}`,
  bytes: utf8(
    lines(
      header,
      ...[0, 1].map(
        (i) =>
          `${given[i]};${family[i]};Kelp ${i};p${i}@x.example;Buyer;Carrow Bay;2026-12-1${i};c${i}@y.example;b${i}@z.example`,
      ),
    ),
  ),
  people: Object.fromEntries([0, 1].map((i) => [`p${i}@x.example`, `${given[i]} ${family[i]}`])),
  sendOn: { 'p0@x.example': '2026-12-10', 'p1@x.example': '2026-12-11' },
  roles: ROLES,
}));

/** Encodings of one byte, with the language that people write in them. */
const ENCODED: readonly (readonly [encoding: string, language: string])[] = [
  ['windows-1250', 'Czech'],
  ['windows-1250', 'Polish'],
  ['windows-1250', 'Hungarian'],
  ['windows-1250', 'Slovak'],
  ['windows-1250', 'Croatian'],
  ['iso-8859-2', 'Czech'],
  ['iso-8859-2', 'Polish'],
  ['iso-8859-2', 'Hungarian'],
  ['iso-8859-2', 'Slovenian'],
  ['windows-1251', 'Russian'],
  ['windows-1251', 'Bulgarian'],
  ['windows-1251', 'Serbian'],
  ['iso-8859-5', 'Russian'],
  ['koi8-r', 'Russian'],
  ['ibm866', 'Russian'],
  ['x-mac-cyrillic', 'Russian'],
  ['windows-1252', 'French'],
  ['windows-1252', 'German'],
  ['windows-1252', 'Icelandic'],
  ['iso-8859-15', 'Finnish'],
  ['iso-8859-15', 'Swedish'],
  ['iso-8859-15', 'Portuguese'],
  ['macintosh', 'French'],
  ['macintosh', 'German'],
  ['macintosh', 'Spanish'],
  ['macintosh', 'Swedish'],
  ['windows-1253', 'Greek'],
  ['iso-8859-7', 'Greek'],
  ['windows-1254', 'Turkish'],
  ['windows-1257', 'Lithuanian'],
  ['windows-1257', 'Latvian'],
  ['windows-1257', 'Estonian'],
];

const ENCODED_FILES: FileCase[] = ENCODED.map(([encoding, language]) => {
  const [, header, given, family] = LANGUAGES.find((l) => l[0] === language) as (typeof LANGUAGES)[number];
  // These encodings have no typographic apostrophe that all of them share.
  const plain = (text: string) => text.replaceAll('’', "'");
  const [first, last, , address] = plain(header).split(';');
  return {
    name: `${language} in ${encoding}`,
    bytes: encoded(
      encoding,
      lines(`${first};${last};${address}`, ...[0, 1].map((i) => plain(`${given[i]};${family[i]};p${i}@x.example`))),
    ),
    people: Object.fromEntries([0, 1].map((i) => [`p${i}@x.example`, plain(`${given[i]} ${family[i]}`)])),
  };
});

export const FILES_OF_LANGUAGES: readonly FileCase[] = [...LANGUAGE_FILES, ...ENCODED_FILES];

import { fieldKey } from '../../../messages/field-name';

/** What a column of a sheet is. `field` keeps its header as the name of a merge field. */
export const COLUMN_ROLES = [
  'address',
  'given_name',
  'family_name',
  'full_name',
  'company',
  'title',
  'time_zone',
  'send_on',
  'verification',
  'cc',
  'bcc',
  'attachment',
  'picture',
  'field',
  'ignore',
] as const;
export type ColumnRole = (typeof COLUMN_ROLES)[number];

/** Headers as people write them in several European languages, as field keys. */
export const HEADERS: Record<Exclude<ColumnRole, 'field' | 'ignore'>, readonly string[]> = {
  address: words(
    'el_paštas e-pasts e-posti_aadress имейл имейл_адрес электронная_почта эл_почта почта адрес_электронной_почты email_адрес електронна_пошта пошта е-пошта διεύθυνση_email ηλεκτρονικό_ταχυδρομείο διεύθυνση_ηλεκτρονικού_ταχυδρομείου e-pošta e-poštni_naslov e-naslov adresă_de_e-mail e-mailová_adresa correu_electrònic correu netfang メールアドレス メール 电子邮件 邮箱 電子郵件 e-posta_adresi endereço_eletrônico posta_elettronica email e-mail mail address emailaddress e-mail-address courriel adresse mél correo correoelectronico correoelectrónico indirizzoemail posta epost mailadresse emailadres endereço email_address mail_address mailaddress contact_email work_email business_email primary_email recipient_email adres_email adres_e-mail adresa_e-mail email_adresa sähköposti sähköpostiosoite e-postadress e-post epostadresse email-cím e-posta direccion_de_correo correo_electrónico indirizzo_email endereço_de_email email_1 to recipient empfänger destinataire destinatario',
  ),
  given_name: words(
    'fname firstname utónév prenume meno име имя імя ime vardas vārds όνομα fornafn skírnarnafn eiginnafn 名 名字 adı nombres prénoms first_name given_name forename givenname vorname prénom prenom nombre nome primeironome voornaam förnamn fornavn etunimi imię imie first fname first_names christian_name jméno keresztnév eesnimi ad nome_proprio primeiro_nome nombre_de_pila',
  ),
  family_name: words(
    'cognoms priezvisko nume_de_familie фамилия прізвище презиме prezime priimek επώνυμο επίθετο pavardė uzvārds perekonnanimi perenimi eftirnafn kenninafn 姓 姓氏 soyadı segundo_apellido last_name family_name surname nachname familienname nom apellido apellidos cognome sobrenome apelido achternaam efternamn efternavn sukunimi nazwisko last lname family primer_apellido příjmení vezetéknév soyad nom_de_famille último_nome etternavn slektsnavn',
  ),
  full_name: words(
    'фио имя_и_фамилия име_и_фамилия імя_та_прізвище име_и_презиме ime_i_prezime ime_in_priimek nume nume_complet nume_și_prenume meno_a_priezvisko ονοματεπώνυμο ad_soyad adı_soyadı vardas_pavardė vardas_ir_pavardė vārds_uzvārds vārds_un_uzvārds ees-_ja_perekonnanimi nom_i_cognoms nom_complet fullt_nafn nafn 氏名 姓名 お名前 名前 nombre_y_apellidos nome_e_cognome nome_completo nome_e_apelido imię_i_nazwisko nom_et_prénom prénom_et_nom vor-_und_nachname fullständigt_namn fulde_navn fullt_navn kontaktní_osoba osoba_kontaktowa personne_de_contact persona_de_contacto persona_di_contatto pessoa_de_contato контактное_лицо kapcsolattartó name full_name contact contactname contactperson ansprechpartner nomcomplet nombrecompleto nombreyapellidos nomecompleto nomeecognome prénometnom nometprénom person vollername vollständigername naam volledigenaam namn navn nimi imięinazwisko full_names contact_name contact_person person_name display_name recipient_name kontakt kontaktperson kontaktname vorname_nachname nom_prénom prénom_nom jméno_a_příjmení teljes_név név koko_nimi isim',
  ),
  company: words(
    'compañía negocio selskap bedrift organisasjon organisaatio organisatie organizacja organización organizzazione organização organizácia organizace szervezet vállalat spoločnosť companie firmă фирма компания компанія организация організація предприятие дружество εταιρεία επωνυμία įmonė uzņēmums ettevõte firmanimi fyrirtæki virksomhed tvrtka poduzeće podjetje предузеће компанија 会社名 会社 公司 kurum employer arbeitgeber employeur company organisation organization firm business companyname unternehmen firma société societe entreprise domaine empresa azienda ditta bedrijf företag virksomhet yritys estate company_name organisation_name organization_name business_name account account_name firmenname firmaname firmenbezeichnung betrieb nom_entreprise raison_sociale nombre_empresa razón_social ragione_sociale nome_azienda nome_da_empresa bedrijfsnaam företagsnamn firmanavn yrityksen_nimi nazwa_firmy cég cégnév názov_firmy společnost podnik şirket',
  ),
  title: words(
    'beosztás pozícia funkcja funcție funcția длъжност позиция должность посада θέση unvan görev pozisyon radno_mjesto radno_mesto радно_место funkcija delovno_mesto pareigos amats ametikoht amet càrrec starfsheiti starf 役職 职位 職稱 job_function tittel stillingsbetegnelse yrke beruf mansione qualifica puesto_de_trabajo função tehtävä tehtävänimike nimike roll rolle title job_title position role anrede funktion titel titre fonction poste cargo puesto titolo ruolo posizione functie stanowisko jobtitle job_position job role_title berufsbezeichnung stellenbezeichnung intitulé_de_poste profession profesión professione profissão functietitel befattning stilling ammattinimike munkakör pozice',
  ),
  time_zone: words(
    'time_zone tz zeitzone fuseauhoraire zonahoraria fuso fusoorario tijdzone time_zone_name tidszon tidssone strefa_czasowa časové_pásmo időzóna',
  ),
  send_on: words(
    'date_de_lenvoi skickas skickas_den sendes sendes_den afsendelsesdato afsendes lähetyspäivä lähetetään odeslat_dne dátum_odoslania odoslať_dňa data_trimiterii trimite_la дата_на_изпращане дата_отправки отправить дата_надсилання надіслати ημερομηνία_αποστολής gönderim_tarihi datum_slanja датум_слања datum_pošiljanja siuntimo_data nosūtīšanas_datums saatmise_kuupäev data_denviament sendingardagur 送信日 发送日期 enviar_em data_do_envio wysłać_dnia data_wysłania invia_il küldendő send_on send_date send_at sendedatum versanddatum versand_am senden_am date_d_envoi envoyer_le fecha_de_envio enviar_el data_di_invio inviare_il data_de_envio verzenddatum verzenden_op data_wysyłki senddate scheduled_for scheduled_date date_to_send planned_for versenden_am sendetermin à_envoyer_le date_envoi fecha_envío data_invio data_envio verstuurdatum skicka_den sendedato wyślij_dnia datum_odeslání küldés_dátuma',
  ),
  verification: words(
    'verification verification_status verification_result email_status email_verification deliverability prüfergebnis geprüft vérification vérifié verificado verificato verificación verifica verificatie',
  ),
  cc: words(
    'con_copia con_copia_a com_cópia in_copia kopi kopi_til kopio dw do_wiadomości kópia kopia_till копие копие_до копия копия_кому копія κοινοποίηση bilgi kopija копија koopia còpia afrit copie_către 抄送 cc copy_to kopie kopie_an copie copie_à copia copia_a kopie_aan in_kopie w_kopii v_kopii kopia kopi_till copia_para cópia copie_pour másolat',
  ),
  bcc: words(
    'cco con_copia_oculta skjult_kopi dold_kopia blindkopi blindkopia piilokopio udw ukryte_do_wiadomości skrytá_kópia titkos_másolat copie_ascunsă скрито_копие скрытая_копия прихована_копія κρυφή_κοινοποίηση gizli_kopya gizli skrivena_kopija skrita_kopija скривена_копија slapta_kopija diskrētā_kopija pimekoopia còpia_oculta falið_afrit 密送 verborgen_kopie bcc blind_copy blindkopie cci blind_carbon_copy blindkopie_an copie_cachée copia_oculta cópia_oculta copia_nascosta blinde_kopie ukryta_kopia skrytá_kopie hemlig_kopia',
  ),
  attachment: words('attachment attachments file anhang anlage pièce_jointe adjunto allegato bijlage załącznik'),
  picture: words('picture image photo bild foto imagen immagine afbeelding zdjęcie'),
};

/** Headers of columns whose places tell the zone, where no column names it. */
export const PLACE_HEADERS: readonly string[] = words(
  'country land pays país pais paese city stadt ort ville ciudad città citta town cidade stad by kaupunki miasto',
);

/** Headers of columns whose addresses are those of the senders or the owners of a row, not of its people. */
export const SENDER_HEADERS: readonly string[] = words(
  'from sender owner account_owner account_manager created_by assigned_to rep sales_rep agent responsible von absender besitzer verantwortlich bearbeiter de expéditeur propriétaire responsable remitente propietario mittente proprietario remetente proprietário van afzender eigenaar från avsändare ägare fra avsender od nadawca odesílatel vlastník',
);
/** Headers under which a name is the family's where another column has the given name: German *Vorname, Name*. */
export const FAMILY_BESIDE_GIVEN: readonly string[] = words('name nom naam namn navn nome nombre nume');
/** Headers under which a name is the given one where another column has the family's: Catalan *Nom, Cognoms*. */
export const GIVEN_BESIDE_FAMILY: readonly string[] = words('nom');

/** The name a role goes by in messages, whatever the sheet's header was: messages are used with many lists. */
export const ROLE_NAMES: Partial<Record<ColumnRole, string>> = {
  given_name: 'given name',
  family_name: 'family name',
  full_name: 'full name',
  company: 'company',
  title: 'title',
  verification: 'verification',
  cc: 'cc',
  bcc: 'bcc',
  attachment: 'attachment',
  picture: 'picture',
};

const BY_HEADER = new Map(
  Object.entries(ROLE_NAMES).flatMap(([role, name]) =>
    (HEADERS[role as keyof typeof HEADERS] ?? []).map((header) => [header, fieldKey(name)] as const),
  ),
);

/**
 * The key under which a list keeps what a message calls by another usual name: `firstname`, `vorname` and `prénom`
 * are all kept as `givenname`. Keys that belong to no role are their own.
 */
export function usualKey(key: string): string {
  return BY_HEADER.get(key) ?? key;
}

/** Whether a key is a usual name of something that lists have a column for, as `vorname` is. */
export const isUsualKey = (key: string): boolean => BY_HEADER.has(key);

/** Other names under which people know the columns of a list, as field keys, each with the name the list has for it. */
export function otherNames(columns: readonly { key: string; name: string }[]): { key: string; name: string }[] {
  const names = new Map(columns.map((c) => [c.key, c.name]));
  return Object.entries(ROLE_NAMES).flatMap(([role, usual]) => {
    const name = names.get(fieldKey(usual));
    return name === undefined ? [] : HEADERS[role as keyof typeof HEADERS].map((key) => ({ key, name }));
  });
}

/** A role that a header can name. */
export type NamedRole = keyof typeof HEADERS;

/** Keys are compared without accents, which many leave out. */
const unaccented = (key: string): string => key.normalize('NFD').replace(/\p{M}/gu, '').normalize('NFC');

const ROLE_BY_HEADER: ReadonlyMap<string, NamedRole> = new Map(
  (Object.keys(HEADERS) as NamedRole[])
    .flatMap((role) => HEADERS[role].map((key) => [unaccented(key), role] as const))
    // Where two roles have a word, it is the first one's.
    .reverse(),
);

/** `Email (required)`, `First name *`, `What is your first name?`. */
const ASKED = /^\W*(?:what is |please )?(?:enter |give |tell us )?your\s+/i;
/** Whose value it is, before what it is: `contact.first_name`, `Attendee: Last name`. */
const WHOSE =
  /^(?:contact|person|customer|client|lead|prospect|user|member|recipient|subscriber|attendee|guest)s?\b[\W_]*/i;
/** The name of a customer is that of a company as often as a person's. */
const UNSURE_BEHIND = /^name$/i;

/** The role that a header names, in any larger European language and as forms and exports adorn it. */
export function roleOfHeader(header: string): NamedRole | undefined {
  const bare = header.replace(/\([^)]*\)|\[[^\]]*\]/g, ' ').replace(ASKED, '');
  const whose = bare
    .trim()
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .replaceAll('_', ' ');
  const behind = whose.replace(WHOSE, '').trim();
  const tried = [header, bare, ...(behind === whose || UNSURE_BEHIND.test(behind) ? [] : [behind])];
  for (const one of tried) {
    const role = ROLE_BY_HEADER.get(unaccented(fieldKey(one)));
    if (role) return role;
  }
  return undefined;
}

function words(text: string): string[] {
  return text.split(' ').map(fieldKey);
}

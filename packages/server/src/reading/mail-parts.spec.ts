import { describe, expect, it } from 'vitest';
import { simpleParser } from 'mailparser';
import { partsOf, readAttachedFile, readPage } from './mail-parts';

const PNG = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex');

function mail(html: string, files: { head: string[]; body: string | Buffer }[] = []): Buffer {
  const part = (head: readonly string[], body: string | Buffer) =>
    ['--b', ...head, 'Content-Transfer-Encoding: base64', '', Buffer.from(body).toString('base64')].join('\r\n');
  return Buffer.from(
    [
      'Content-Type: multipart/related; boundary=b',
      '',
      part(['Content-Type: text/html; charset=utf-8'], html),
      ...files.map((f) => part(f.head, f.body)),
      '--b--',
    ].join('\r\n'),
  );
}
const attached = (name: string, body: string | Buffer = 'x', type = 'application/octet-stream') => ({
  head: [`Content-Type: ${type}`, `Content-Disposition: attachment; filename="${name}"`],
  body,
});
const parts = async (raw: Buffer) => partsOf(await simpleParser(raw));

describe('the page of a message', () => {
  it.each([
    ['a script', '<p>Hi<script>alert(1)</script></p>', /script|alert/],
    ['an event', '<p onclick="alert(1)">Hi</p>', /onclick/],
    ['an event in upper case', '<IMG SRC=x ONERROR=alert(1)><p>Hi</p>', /onerror/i],
    ['a link that runs', '<a href="java&#10;script:alert(1)">Hi</a>', /script:/],
    ['a page within', '<iframe src="https://x.example"></iframe>Hi', /iframe/],
    ['another page instead', '<meta http-equiv="refresh" content="0;url=https://x.example">Hi', /meta|refresh/],
    ['another base', '<base href="https://x.example/">Hi', /base/],
    ['a form', '<form action="https://x.example"><input name="password"></form>Hi', /form|input/],
    ['a picture that is a program', '<svg onload="alert(1)"></svg><img src="data:text/html,x">Hi', /svg|data:text/],
    ['an object', '<object data="x.swf"></object><embed src="x.swf">Hi', /object|embed/],
    ['a style for the whole page', '<style>body{background:url(https://x.example)}</style>Hi', /style>|url/],
    ['a comment that is none', '<!--[if IE]><script>x</script><![endif]-->Hi', /script|if IE/],
    ['maths in which something hides', '<math><mtext><style><img src=x onerror=alert(1)></style>Hi', /onerror/],
  ])('loses %s, and no more', async (_, html, lost) => {
    const page = (await readPage(mail(html))) ?? '';
    expect(page).not.toMatch(lost);
    expect(page).toContain('Hi');
  });

  it('keeps what a letter is made of, and opens links apart', async () => {
    const html = '<table style="color:red"><tr><td>A <b>b</b></td></tr></table><a href="https://x.example/?a=1">L</a>';
    const page = await readPage(mail(html));
    expect(page).toContain('<table style="color:red"><tr><td>A <b>b</b></td></tr></table>');
    expect(page).toContain('<a href="https://x.example/?a=1" target="_blank" rel="noopener noreferrer nofollow">L</a>');
  });

  it('has the pictures that came with it, and says of those that did not', async () => {
    const inline = { head: ['Content-Type: image/png', 'Content-ID: <one@x>'], body: PNG };
    const raw = mail('<img src="cid:one@x"><img src="cid:none"><img src="https://x.example/a.png">', [inline]);
    expect(await readPage(raw)).toBe(
      `<img src="data:image/png;base64,${PNG.toString('base64')}" /><img src="" /><img src="https://x.example/a.png" />`.replaceAll(
        'src="" ',
        '',
      ),
    );
    expect(await parts(raw)).toMatchObject({ hasPage: true, hasRemotePictures: true, files: [{ isPicture: true }] });
    expect(await parts(mail('<p>Hi</p><a href="https://x.example">x</a>'))).toMatchObject({ hasRemotePictures: false });
    expect(await parts(mail('<td background=//x.example/a.png>'))).toMatchObject({ hasRemotePictures: true });
  });

  it('is none where there is none, or too long', async () => {
    expect(await readPage(Buffer.from('Subject: x\r\n\r\nHello'))).toBeNull();
    await expect(readPage(mail(`<p>${'x'.repeat(3_000_001)}</p>`))).rejects.toThrow(/longer than what is shown/);
  });
});

describe('files of a message', () => {
  it('are listed by name, size and danger', async () => {
    const raw = mail('Hi', [
      attached('prices.pdf', '%PDF-1.7'),
      attached('photo.jpg', Buffer.from('ffd8ffe0', 'hex'), 'image/jpeg'),
      attached('photo.png', '<html>', 'image/png'),
      attached('invoice.pdf.exe', 'MZ'),
      attached('orders.xlsm', 'PK'),
    ]);
    expect((await parts(raw)).files.map((f) => [f.name, f.size, f.isPicture, f.canRun])).toEqual([
      ['prices.pdf', 8, false, false],
      ['photo.jpg', 4, true, false],
      ['photo.png', 6, false, false],
      ['invoice.pdf.exe', 2, false, true],
      ['orders.xlsm', 2, false, true],
    ]);
    expect(await readAttachedFile(raw, 1)).toMatchObject({ name: 'photo.jpg', type: 'image/jpeg' });
    // What only says that it is a picture is given away as something unknown.
    expect(await readAttachedFile(raw, 2)).toMatchObject({ name: 'photo.png', type: 'application/octet-stream' });
    expect(await readAttachedFile(raw, 5)).toBeNull();
  });

  it.each([
    ['../../etc/passwd', '.._.._etc_passwd'],
    ['C:orders.csv', 'C_orders.csv'],
    ['=?UTF-8?Q?gpj=E2=80=AE.exe?=', 'gpj.exe'],
    ['', 'file 1'],
    [`${'n'.repeat(500)}.pdf`, `${'n'.repeat(100)}…${'n'.repeat(95)}.pdf`],
  ])('named %j are %j here', async (given, shown) => {
    const raw = mail('Hi', [attached(given)]);
    expect((await parts(raw)).files[0]?.name).toBe(shown);
  });

  it('that are messages are saved as such', async () => {
    const raw = mail('Hi', [{ head: ['Content-Type: message/rfc822'], body: 'Subject: Old\r\n\r\nHello' }]);
    expect((await parts(raw)).files).toMatchObject([{ name: 'message 1.eml', canRun: false }]);
  });
});

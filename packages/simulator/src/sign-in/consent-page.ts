const STYLE = `
  body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: #eceff1; color: #1d2733; font: 16px/1.5 sans-serif; }
  main { max-width: 26rem; margin: 24px; padding: 28px 32px; background: #fff; border: 1px solid #cfd6db; }
  h1 { margin: 0 0 12px; font-size: 20px; }
  p { margin: 0 0 16px; }
  label { display: grid; gap: 4px; margin-bottom: 18px; font-size: 14px; }
  select { font: inherit; padding: 8px; }
  div { display: flex; gap: 12px; }
  button { font: inherit; padding: 9px 16px; border: 1px solid #33475b; background: #fff; color: #1d2733; cursor: pointer; }
  button.allow { background: #33475b; color: #fff; }
`;

const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const escape = (text: string) => text.replace(/[&<>"]/g, (c) => ENTITIES[c] ?? c);

const page = (title: string, body: string) => `<!doctype html>
<html lang="en">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escape(title)}</title><style>${STYLE}</style></head>
<body><main><h1>${escape(title)}</h1>${body}</main></body>
</html>`;

/**
 * Asks whether a program may use an account.
 *
 * @param accounts addresses of those who may sign in here
 * @param params what the program asked with, kept in the form; its `login_hint` is who is meant
 */
export function consentPage(accounts: readonly string[], params: URLSearchParams): string {
  const hint = params.get('login_hint');
  const hidden = [...params]
    .map(([name, value]) => `<input type="hidden" name="${escape(name)}" value="${escape(value)}">`)
    .join('');
  const options = accounts.map((a) => `<option${a === hint ? ' selected' : ''}>${escape(a)}</option>`).join('');
  return page(
    'Simulated provider',
    `<p>Baton asks to send and to read mail for you.</p>
<form method="post" action="/authorize">${hidden}<label>Account<select name="account">${options}</select></label>
<div><button class="allow" name="decision" value="allow">Allow</button><button name="decision" value="refuse">Refuse</button></div></form>`,
  );
}

export const refusalPage = (words: string): string => page('Simulated provider', `<p>${escape(words)}</p>`);

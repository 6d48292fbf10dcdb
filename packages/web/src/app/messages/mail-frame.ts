import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { DomSanitizer } from '@angular/platform-browser';

/** Even if something slipped past the escaping: no script, no form, nothing fetched. */
const POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src data:";
const STYLE =
  'body{margin:14px 18px;font:15px/1.55 sans-serif;color:#17261f;background:#fffdf8;overflow-wrap:anywhere}a{color:#0b5d57}';

/** A message's HTML as a mail program shows it: in a sandboxed frame, black on white also in the dark. */
@Component({
  selector: 'bt-mail-frame',
  template: `<iframe sandbox="" [title]="label()" [srcdoc]="page()"></iframe>`,
  styles: `
    iframe {
      display: block;
      border: 0;
      width: 100%;
      height: 100%;
      background: #fffdf8;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MailFrame {
  private readonly sanitizer = inject(DomSanitizer);
  /** A fragment that the server has escaped or sanitised. */
  readonly html = input.required<string>();
  readonly label = input.required<string>();

  // Angular would strip the style; the sandbox and the policy keep out what could act.
  protected readonly page = computed(() =>
    this.sanitizer.bypassSecurityTrustHtml(
      `<!doctype html><meta charset="utf-8"><meta http-equiv="Content-Security-Policy" content="${POLICY}"><style>${STYLE}</style>${this.html()}`,
    ),
  );
}

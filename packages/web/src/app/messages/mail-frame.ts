import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { DomSanitizer } from '@angular/platform-browser';

/** Even if something slipped past the escaping: no script, no form, nothing fetched. */
const POLICY =
  '<meta http-equiv="Content-Security-Policy" content="default-src \'none\'; style-src \'unsafe-inline\'; img-src data:">';
const STYLE =
  'body{margin:14px 18px;font:15px/1.55 sans-serif;color:#17261f;background:#fffdf8;overflow-wrap:anywhere}a{color:#0b5d57}';
/** As mail programs do that darken what is not made for it: light and dark change places, pictures stay. */
const DARKENED =
  '<style>html{filter:invert(1) hue-rotate(180deg);background:#fff}img{filter:invert(1) hue-rotate(180deg)}</style>';

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
  /** A page of ours, or a fragment that the server has sanitised. */
  readonly html = input.required<string>();
  readonly label = input.required<string>();
  /** As mail programs show it in the dark. */
  readonly darkened = input(false);

  // Angular would strip the style; the sandbox and the policy keep out what could act.
  protected readonly page = computed(() => {
    const html = this.html();
    const extra = `${POLICY}${this.darkened() ? DARKENED : ''}`;
    const head = /<head[^>]*>/i.exec(html);
    const page = head
      ? html.slice(0, head.index + head[0].length) + extra + html.slice(head.index + head[0].length)
      : `<!doctype html><meta charset="utf-8">${extra}<style>${STYLE}</style>${html}`;
    return this.sanitizer.bypassSecurityTrustHtml(page);
  });
}

/** Documents made of blocks, written as Markdown and as HTML: what is said once reads the same in both. */
import { xmlText } from './xml-text';

/** Text may hold names in back quotes, and what is to be strong between two asterisks. */
export type Block =
  | { readonly is: 'heading'; readonly level: 1 | 2 | 3 | 4; readonly text: string; readonly id?: string }
  | { readonly is: 'text'; readonly text: string }
  | { readonly is: 'list'; readonly items: readonly string[]; readonly numbered?: boolean }
  | { readonly is: 'table'; readonly head: readonly string[]; readonly rows: readonly (readonly string[])[] }
  | { readonly is: 'code'; readonly text: string; readonly language: string };

export const heading = (level: 1 | 2 | 3 | 4, text: string, id?: string): Block => ({
  is: 'heading',
  level,
  text,
  ...(id === undefined ? {} : { id }),
});
export const para = (text: string): Block => ({ is: 'text', text });
export const list = (items: readonly string[], numbered = false): Block => ({ is: 'list', items, numbered });
export const table = (head: readonly string[], rows: readonly (readonly string[])[]): Block => ({ is: 'table', head, rows });
export const code = (text: string, language: string): Block => ({ is: 'code', text, language });

/** A name as code within text. A back quote in it becomes a straight one: no plan needs it, and every reader of Markdown takes it otherwise. */
export const name = (s: string): string => `\`${s.replaceAll('`', "'").replaceAll(/\s*\n\s*/g, ' ') || ' '}\``;

const PARTS = /`([^`]+)`|\*\*([^*]+)\*\*/g;

/** Text of Markdown: what is no code is no markup either. */
const plainMd = (s: string): string =>
  s
    .replaceAll(/\s*\n\s*/g, ' ')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;');
const inlineMd = (s: string): string => {
  let out = '';
  let at = 0;
  for (const m of s.matchAll(PARTS)) {
    out += plainMd(s.slice(at, m.index)) + m[0].replaceAll(/\s*\n\s*/g, ' ');
    at = m.index + m[0].length;
  }
  return out + plainMd(s.slice(at));
};
const cellMd = (s: string): string => inlineMd(s).replaceAll('\\', '\\\\').replaceAll('|', '\\|');
/** A fence that is longer than any in the text. Source: CommonMark 0.31, 4.5. */
const fence = (text: string): string => '`'.repeat(Math.max(3, ...[...text.matchAll(/`+/g)].map((m) => m[0].length + 1)));

/** Source: CommonMark 0.31; tables as in the GitHub Flavored Markdown specification 0.29, 4.10. Ends with a line feed. */
export const markdownOf = (blocks: readonly Block[]): string =>
  `${blocks
    .map((b) => {
      switch (b.is) {
        case 'heading':
          return `${'#'.repeat(b.level)} ${inlineMd(b.text)}`;
        case 'text':
          return inlineMd(b.text);
        case 'list':
          return b.items.map((x, i) => `${b.numbered ? `${i + 1}.` : '-'} ${inlineMd(x)}`).join('\n');
        case 'table':
          return [b.head, b.head.map(() => '---'), ...b.rows].map((r) => `| ${r.map(cellMd).join(' | ')} |`).join('\n');
        case 'code':
          return `${fence(b.text)}${b.language}\n${b.text}\n${fence(b.text)}`;
      }
    })
    .join('\n\n')}\n`;

const inlineHtml = (s: string): string => {
  let out = '';
  let at = 0;
  for (const m of s.matchAll(PARTS)) {
    out += xmlText(s.slice(at, m.index));
    out += m[1] === undefined ? `<strong>${xmlText(m[2]!)}</strong>` : `<code>${xmlText(m[1])}</code>`;
    at = m.index + m[0].length;
  }
  return out + xmlText(s.slice(at));
};

/** Ground, ink and accent of the application; one press selects a whole name. */
const STYLE = `:root{color-scheme:light}body{font:15px/1.5 system-ui,sans-serif;color:#17211d;background:#fbf9f3;max-width:60rem;margin:2rem auto;padding:0 1.5rem}
h1{font-size:1.7rem;margin:0 0 .5rem}h2{font-size:1.25rem;margin:2rem 0 .5rem;border-top:2px solid #17211d;padding-top:.75rem}h3{font-size:1.05rem;margin:1.5rem 0 .25rem}h4{margin:1rem 0 .25rem}
table{border-collapse:collapse;width:100%;margin:.5rem 0}th{text-align:left;font-weight:500;color:#4c5852}td,th{padding:.25rem .75rem .25rem 0;vertical-align:top;border-top:1px solid #d3cdbc}
code{font:13px ui-monospace,monospace;background:#f3f0e6;padding:0 .2em;user-select:all;overflow-wrap:anywhere}pre{font:13px/1.4 ui-monospace,monospace;background:#f3f0e6;padding:.75rem;overflow-x:auto}a{color:#0a5566}
@media print{body{margin:0;max-width:none;background:#fff}h2{break-before:auto}h3,h4{break-after:avoid}tr,pre{break-inside:avoid}pre{white-space:pre-wrap}}`;

/** One HTML file that needs nothing else, and prints. Source: HTML Living Standard; texts by XML 1.0, 2.4. */
export const htmlOf = (title: string, blocks: readonly Block[]): string =>
  `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${xmlText(title)}</title>
<style>${STYLE}</style>
<main>
${blocks
  .map((b) => {
    switch (b.is) {
      case 'heading':
        return `<h${b.level}${b.id === undefined ? '' : ` id="${xmlText(b.id)}"`}>${inlineHtml(b.text)}</h${b.level}>`;
      case 'text':
        return `<p>${inlineHtml(b.text)}</p>`;
      case 'list': {
        const tag = b.numbered ? 'ol' : 'ul';
        return `<${tag}>${b.items.map((x) => `<li>${inlineHtml(x)}</li>`).join('')}</${tag}>`;
      }
      case 'table':
        return `<table><thead><tr>${b.head.map((h) => `<th scope="col">${inlineHtml(h)}</th>`).join('')}</tr></thead><tbody>${b.rows
          .map((r) => `<tr>${r.map((c) => `<td>${inlineHtml(c)}</td>`).join('')}</tr>`)
          .join('')}</tbody></table>`;
      case 'code':
        return `<pre>${xmlText(b.text)}</pre>`;
    }
  })
  .join('\n')}
</main>
</html>
`;

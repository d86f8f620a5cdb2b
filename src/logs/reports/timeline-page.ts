import { createHash } from 'node:crypto';

/** The parts of the page, as the build has made them. */
export interface PageParts {
  readonly script: string;
  readonly style: string;
  readonly body: string;
}

/** What a page is made with besides the log. */
export interface PageSettings {
  /** What stands at the top: the log's name. */
  readonly title: string;
  /** True if it listens to an application. */
  readonly live?: boolean;
  /** In a comparison: the row where a difference shows, from 0. */
  readonly differsAt?: number;
}

/** What all pages of this kind have, so that nothing else is overwritten. */
export const pageMark = '<meta name="generator" content="leeshore timeline">';

/** The page up to the log: the frame is drawn while the log is still being read. */
export function pageHead(
  { script, style, body }: PageParts,
  { title, ...settings }: PageSettings,
): string {
  const hash = createHash('sha256').update(script).digest('base64');
  const named = body.replace('<h1 id="title"></h1>', () => `<h1 id="title">${escaped(title)}</h1>`);
  // Nothing is loaded, and no code runs but the page's own.
  const policy = `default-src 'none'; script-src 'sha256-${hash}'; style-src 'unsafe-inline'`;
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<meta http-equiv="Content-Security-Policy" content="${policy}">
${pageMark}
<title>${escaped(title)} - timeline</title>
<style>${style}</style>
<body>
${named}
<script type="application/json" id="settings">${asScriptText(JSON.stringify(settings))}</script>
<script>${script}</script>
`;
}

/** Lines of a log, as a block of the page. `name`: whose they are, in a comparison. */
export const pageBlock = (lines: string, name = ''): string =>
  `<script type="text/plain" class="log" data-name="${escaped(name)}">\n${asScriptText(lines)}</script>\n`;

export const pageTail = '</body>\n</html>\n';

/** JSON in which nothing ends the element that it stands in: `<` only stands within its strings. */
const asScriptText = (json: string): string => json.replaceAll('<', '\\u003c');

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);

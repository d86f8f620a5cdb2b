import { Detail } from './detail.js';
import { element, part } from './element.js';
import { listenLive } from './live.js';
import { LogData } from './log-data.js';
import { RowList } from './row-list.js';
import { scriptOf } from './script-export.js';
import { markColours, Strip } from './strip.js';

/** What the page is made with. */
interface Settings {
  readonly live?: boolean;
  /** In a comparison: the row where a difference shows. */
  readonly differsAt?: number;
}

const settings = JSON.parse(part('settings').textContent || '{}') as Settings;
const sources = new Map<string, LogData>();
let data = new LogData();
let isPaused = false;
const waiting: unknown[] = [];
const muted = new Set<string>();

const hueOf = (store: string): number => (data.stores.indexOf(store) * 137 + 205) % 360;
const select = (at: number): void => {
  if (!list.shown.includes(at)) {
    clearFilters();
    filter();
  }
  list.select(at);
};
const list = new RowList({
  hueOf,
  get data() {
    return data;
  },
  selected: (at) => {
    strip.select(at);
    detail.show(at);
  },
});
const strip = new Strip({
  get data() {
    return data;
  },
  hueOf,
  select,
  isShown: (at) => shownRows.has(at),
});
const detail = new Detail({
  get data() {
    return data;
  },
  get name() {
    return [...sources.keys()][0] ?? '';
  },
  get others() {
    return [...sources].slice(1).map(([name, other]) => ({ name, data: other }));
  },
  select,
});

const search = part<HTMLInputElement>('search');
const failedOnly = part<HTMLInputElement>('failed');
const store = part<HTMLSelectElement>('store');
let shownRows: ReadonlySet<number> = new Set();

function clearFilters(): void {
  search.value = '';
  failedOnly.checked = false;
  store.value = '';
  muted.clear();
}

/** Shows the rows that are wanted. */
function filter(): void {
  const words = search.value
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== '');
  const only = store.value;
  const shown: number[] = [];
  for (const [at, row] of data.rows.entries()) {
    if (failedOnly.checked && !row.hasFailed) continue;
    if (only !== '' && row.store !== only) continue;
    if (muted.size > 0 && muted.has(row.line.do)) continue;
    if (words.every((word) => row.text.includes(word))) shown.push(at);
  }
  shownRows = new Set(shown);
  list.show(shown);
  strip.draw();
  const all = data.rows.length;
  const count =
    shown.length === all
      ? `${all} transaction${all === 1 ? '' : 's'}`
      : `${shown.length} of ${all} transactions`;
  part('count').textContent = `${count}${isPaused ? `, paused (${waiting.length} wait)` : ''}`;
  part('muted').replaceChildren(...[...muted].map(mutedButton));
  const [fault] = data.faults;
  part('faults').textContent = fault === undefined ? '' : `${fault} (${data.faults.length})`;
}

const mutedButton = (name: string): HTMLElement =>
  element(
    'button',
    {
      type: 'button',
      title: `Show ${name} again`,
      click: () => {
        muted.delete(name);
        filter();
      },
    },
    `${name} ×`,
  );

/** What is new is there: stores to choose from, and the rows. */
function refresh(): void {
  const known = [...store.options].map(({ value }) => value);
  for (const name of data.stores)
    if (!known.includes(name)) store.append(element('option', { value: name }, name));
  const colours: (readonly [name: string, colour: string])[] = data.stores.map((name) => [
    name,
    `hsl(${hueOf(name)} 55% 50%)`,
  ]);
  if (data.rows.some(({ hasFailed }) => hasFailed))
    colours.push(['refused', markColours.refused], ['failed or broke', markColours.failed]);
  part('legend').replaceChildren(
    ...colours.map(([name, colour]) => element('span', { style: `--colour: ${colour}` }, name)),
  );
  filter();
}

/** Moves to the next row from here for which something holds. */
function jump(direction: 1 | -1, wanted: (at: number) => boolean): void {
  const { shown } = list;
  for (
    let i = shown.indexOf(list.selected) + direction;
    i >= 0 && i < shown.length;
    i += direction
  ) {
    const at = shown[i] ?? 0;
    if (wanted(at)) {
      list.select(at);
      return;
    }
  }
}

function pin(): void {
  detail.pinned = detail.pinned === undefined && list.selected >= 0 ? list.selected : undefined;
  const isPinned = detail.pinned !== undefined;
  part('pin').setAttribute('aria-pressed', String(isPinned));
  part('pin').textContent = isPinned
    ? `Then: turn ${data.rows[detail.pinned ?? 0]?.turn ?? 0} ×`
    : 'Pin this moment';
  detail.show(list.selected);
}

function download(): void {
  const [from, to] = [detail.pinned ?? 0, Math.max(0, list.selected)].sort((a, b) => a - b);
  const text = scriptOf(data, from ?? 0, to ?? 0);
  const url = URL.createObjectURL(new Blob([text], { type: 'application/json' }));
  element('a', { href: url, download: 'timeline.script.json' }).click();
  URL.revokeObjectURL(url);
}

function mute(): void {
  const name = data.rows[list.selected]?.line.do;
  if (name === undefined) return;
  muted.add(name);
  filter();
}

function pause(): void {
  isPaused = !isPaused;
  part('pause').setAttribute('aria-pressed', String(isPaused));
  part('pause').textContent = isPaused ? 'Go on' : 'Pause';
  if (!isPaused) receive(waiting.splice(0), false);
  filter();
}

for (const input of [search, failedOnly, store]) input.addEventListener('input', filter);
const buttons = { pin, download, mute, pause };
for (const [name, does] of Object.entries(buttons)) part(name).addEventListener('click', does);

const keys: Readonly<Record<string, () => void>> = {
  '/': () => {
    search.focus();
  },
  n: () => {
    jump(1, (at) => data.rows[at]?.hasFailed === true);
  },
  N: () => {
    jump(-1, (at) => data.rows[at]?.hasFailed === true);
  },
  p: pin,
  m: mute,
  Escape: () => {
    clearFilters();
    filter();
    part('list').focus();
  },
};
/** True if letters that are typed there mean something: in a field, and in a list that they choose from. */
const takesLetters = (target: EventTarget | null): boolean =>
  target instanceof HTMLSelectElement ||
  (target instanceof HTMLInputElement && target.type !== 'checkbox');

document.addEventListener('keydown', (event) => {
  const isTyping = takesLetters(event.target) && event.key !== 'Escape';
  const does = keys[event.key];
  if (isTyping || does === undefined || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  does();
});

/** Takes in what an application has sent. */
function receive(entries: readonly unknown[], isWhole: boolean): void {
  if (isPaused) {
    if (isWhole) waiting.length = 0;
    waiting.push(...entries);
    filter();
    return;
  }
  const follows = list.selected < 0 || list.selected === list.shown.at(-1);
  if (isWhole) data.clear();
  for (const entry of entries) data.add(entry);
  refresh();
  const last = list.shown.at(-1);
  if (follows && last !== undefined) list.select(last);
}

/** Reads the blocks of the document as they come, one after the other, so that the page can be used meanwhile. */
function load(): void {
  const block = document.querySelector('script.log');
  if (block === null) {
    if (document.readyState === 'loading') {
      setTimeout(load, 20);
      return;
    }
    refresh();
    if (data.rows.length > 0) list.select(settings.differsAt ?? 0);
    document.body.classList.add('loaded');
    return;
  }
  const name = block.getAttribute('data-name') ?? '';
  let source = sources.get(name);
  if (source === undefined) {
    sources.set(name, (source = new LogData()));
    if (sources.size === 1) data = source;
    document.body.classList.toggle('compares', sources.size > 1);
  }
  const isFirst = data.rows.length === 0;
  source.addText(block.textContent);
  block.remove();
  if (isFirst) refresh();
  setTimeout(load, 0);
}

list.differsAt = settings.differsAt;
part('pause').hidden = settings.live !== true;
detail.show(-1);
load();
if (settings.live === true) listenLive(receive);

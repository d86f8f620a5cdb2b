import { isObject } from '../../base/json.js';
import { doneText, changeText, timeText } from '../log/line-texts.js';
import type { LogLine } from '../log/log-lines.js';
import { element, part } from './element.js';
import { shortened } from './shortened.js';
import type { LogData, Row } from './log-data.js';

/** How high a row is, in pixels; the style sheet says the same. */
const rowHeight = 26;
/** The number of rows that are drawn above and below what is seen. */
const margin = 6;
/** Browsers draw nothing further down than so many pixels: beyond that, the place in the list is scaled. */
const mostPixels = 8_000_000;

/** What the list needs to know. */
export interface ListHost {
  readonly data: LogData;
  readonly hueOf: (store: string) => number;
  /** Told of the row that is selected. */
  readonly selected: (at: number) => void;
}

/** The transactions as a list: only the rows that are seen are drawn. */
export class RowList {
  /** The places of the rows that are shown. */
  shown: readonly number[] = [];
  #selected = -1;
  /** The row at which a comparison shows a difference. */
  differsAt: number | undefined;
  readonly #host: ListHost;
  readonly #box = part('list');
  readonly #space = part('space');
  readonly #rows = part('rows');
  /** The rows that are drawn, by their place in the list. */
  readonly #drawn = new Map<
    number,
    { readonly row: HTMLElement; readonly at: number; readonly isSelected: boolean }
  >();
  #isDue = false;

  constructor(host: ListHost) {
    this.#host = host;
    this.#box.addEventListener('scroll', () => {
      this.draw();
    });
    new ResizeObserver(() => {
      this.draw();
    }).observe(this.#box);
    this.#rows.addEventListener('click', ({ target }) => {
      const row = (target as HTMLElement).closest('[data-at]');
      if (row !== null) this.select(Number(row.getAttribute('data-at')));
    });
    this.#box.addEventListener('keydown', (event) => {
      this.#key(event);
    });
  }

  get selected(): number {
    return this.#selected;
  }

  /** Shows these rows. */
  show(shown: readonly number[]): void {
    this.shown = shown;
    for (const { row } of this.#drawn.values()) row.remove();
    this.#drawn.clear();
    part('nothing').textContent =
      shown.length > 0
        ? ''
        : this.#host.data.rows.length === 0
          ? 'The log has no transactions.'
          : 'No transaction is like that. Escape shows all.';
    this.#space.style.height = `${Math.min(shown.length * rowHeight, mostPixels)}px`;
    this.draw();
  }

  /** Selects a row, and scrolls to it. */
  select(at: number): void {
    this.#selected = at;
    this.#scrollTo(at);
    this.draw();
    this.#host.selected(at);
  }

  /** How much further down a row is than its place on the screen says, in long lists. */
  get #scale(): number {
    const height = this.shown.length * rowHeight;
    return height <= mostPixels ? 1 : height / mostPixels;
  }

  #scrollTo(at: number): void {
    const place = this.shown.indexOf(at);
    if (place < 0) return;
    const top = place * rowHeight;
    const { clientHeight } = this.#box;
    const from = this.#box.scrollTop * this.#scale;
    if (top < from) this.#box.scrollTop = top / this.#scale;
    else if (top + rowHeight > from + clientHeight)
      this.#box.scrollTop = (top + rowHeight - clientHeight) / this.#scale;
  }

  /** Draws what is seen, with the next frame. */
  draw(): void {
    if (this.#isDue) return;
    this.#isDue = true;
    requestAnimationFrame(() => {
      this.#isDue = false;
      this.#drawNow();
    });
  }

  #drawNow(): void {
    const { scrollTop, clientHeight } = this.#box;
    const top = scrollTop * this.#scale;
    const first = Math.max(0, Math.floor(top / rowHeight) - margin);
    const last = Math.min(this.shown.length, Math.ceil((top + clientHeight) / rowHeight) + margin);
    // Rows that stay in sight stay as they are: most frames of scrolling draw a few new ones.
    for (const [place, { row, at, isSelected }] of this.#drawn) {
      const stays =
        place >= first &&
        place < last &&
        this.shown[place] === at &&
        isSelected === (at === this.#selected);
      if (stays) continue;
      row.remove();
      this.#drawn.delete(place);
    }
    for (let place = first; place < last; place++) {
      if (this.#drawn.has(place)) continue;
      const at = this.shown[place] ?? 0;
      const row = this.#row(at, place);
      row.style.top = `${place * rowHeight}px`;
      this.#drawn.set(place, { row, at, isSelected: at === this.#selected });
      this.#rows.append(row);
    }
    // In long lists the rows stand further down than the box can scroll.
    this.#rows.style.transform = `translateY(${scrollTop - top}px)`;
    this.#box.setAttribute(
      'aria-activedescendant',
      this.#selected < 0 ? '' : `row-${this.#selected}`,
    );
  }

  #row(at: number, place: number): HTMLElement {
    const row = this.#host.data.rows[at] as Row;
    const { line, turn, depth, store } = row;
    const classes = ['row', line.outcome === 'refused' && 'refused', row.hasFailed && 'failed'];
    if (at === this.differsAt) classes.push('differs');
    return element(
      'div',
      {
        class: classes.filter((name) => name !== false).join(' '),
        role: 'option',
        id: `row-${at}`,
        'data-at': at,
        'aria-selected': at === this.#selected ? 'true' : 'false',
        'aria-posinset': place + 1,
        'aria-setsize': this.shown.length,
        style: `--hue: ${this.#host.hueOf(store)}; --depth: ${Math.min(depth, 6)}`,
      },
      element('span', { class: 'turn' }, String(turn)),
      element('span', { class: 'time' }, timeText(line.at)),
      element('span', { class: 'what' }, doneText(line)),
      element('span', { class: 'outcome' }, line.outcome === 'done' ? '' : (line.outcome ?? '')),
      element('span', { class: 'changes' }, saidOf(line)),
    );
  }

  #key(event: KeyboardEvent): void {
    const page = Math.max(1, Math.floor(this.#box.clientHeight / rowHeight) - 1);
    const steps: Readonly<Record<string, number>> = {
      ArrowUp: -1,
      ArrowDown: 1,
      PageUp: -page,
      PageDown: page,
      Home: -Infinity,
      End: Infinity,
    };
    const step = steps[event.key];
    if (step === undefined || this.shown.length === 0) return;
    event.preventDefault();
    const now = this.shown.indexOf(this.#selected);
    const next = Math.min(this.shown.length - 1, Math.max(0, (now < 0 ? -1 : now) + step));
    this.select(this.shown[next] ?? 0);
  }
}

/** What is said in a row besides what was done: why not, what went wrong, or what changed. */
function saidOf({ kind, reason, place, payload, changes = [] }: LogLine): string {
  if (reason !== undefined) return place === undefined ? reason : `${reason}: ${place}`;
  const failed = kind === 'fail' || kind === 'retry';
  const message = failed && isObject(payload) ? payload['message'] : undefined;
  return [
    ...(typeof message === 'string' ? [shortened(message)] : []),
    ...changes.map(changeText),
  ].join(', ');
}
